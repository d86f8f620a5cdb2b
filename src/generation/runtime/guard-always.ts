// True if snapshots are frozen, if the options do not say.

/** They are. */
export const guardByDefault = (): boolean => true;
