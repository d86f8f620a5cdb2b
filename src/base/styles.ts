/** The styles that stores can be generated in. */
export const styles = ['reducer', 'atom', 'proxy', 'observable'] as const;
export type Style = (typeof styles)[number];

export const isStyle = (name: string | undefined): name is Style =>
  (styles as readonly (string | undefined)[]).includes(name);

/** How an application changes and reads stores: by `dispatch` and one state, or by what each store has. */
export const usedBy: Readonly<Record<Style, 'dispatch' | 'members'>> = {
  reducer: 'dispatch',
  atom: 'members',
  proxy: 'members',
  observable: 'members',
};

/** The user interface frameworks that readers are written for. */
export const frameworks = ['react', 'vue', 'angular'] as const;
export type Framework = (typeof frameworks)[number];
