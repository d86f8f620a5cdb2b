import { Tree } from './folders';

export default {
  name: 'old tree',
  keepsSnapshots: true,
  create() {
    const t = new Tree();
    return {
      actions: { tree: {
        add: (n: string) => t.add(n), choose: (id: string | null) => t.choose(id), toggle: (id: string) => t.toggle(id),
        cut: () => t.cut(), paste: () => t.paste(), remove: () => t.remove(),
      } },
      state: { tree: { folders: () => t.folders, open: () => t.open, chosen: () => t.chosen, clip: () => t.clip } },
      derived: { tree: { top: () => t.top, under: (id: string) => t.under(id), where: () => t.where } },
    };
  },
};
