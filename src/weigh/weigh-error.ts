/** A module that cannot be bundled. */
export class WeighError extends Error {}
