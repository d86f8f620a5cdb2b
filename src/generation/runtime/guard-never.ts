// True if snapshots are frozen, if the options do not say.

/** They are not. */
export const guardByDefault = (): boolean => false;
