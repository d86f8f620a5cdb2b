// True if snapshots are frozen, if the options do not say.

/** What bundlers put in the place of this, and Node.js knows; elsewhere it may be missing. */
declare const process: { readonly env: { readonly NODE_ENV?: string } };

/** Outside production they are. */
export function guardByDefault(): boolean {
  try {
    return process.env.NODE_ENV !== 'production';
  } catch {
    return true;
  }
}
