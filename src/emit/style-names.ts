/** The styles that stores can be generated in. */
export const styles = ['reducer', 'atom', 'proxy', 'observable'] as const;
export type Style = (typeof styles)[number];
