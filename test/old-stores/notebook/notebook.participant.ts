import { Look, Notebook } from './notebook';

export default {
  name: 'old notebook',
  saves: true,
  create() {
    const book = new Notebook();
    const look = new Look();
    return {
      actions: {
        notes: { write: (t: string) => { book.draft = t; }, keep: () => book.keep(), pin: (id: string) => book.pin(id), tear: (id: string) => book.tear(id) },
        look: {
          setDark: (dark: boolean) => look.set({ dark }),
          bigger: () => look.set({ size: Math.min(24, look.size + 2) }),
          smaller: () => look.set({ size: Math.max(10, look.size - 2) }),
        },
      },
      state: {
        notes: { notes: () => book.notes, draft: () => book.draft, seen: () => book.seen },
        look: { dark: () => look.dark, size: () => look.size },
      },
      derived: { notes: { pinned: () => book.notes.filter((n) => n.pinned).map((n) => n.text) } },
    };
  },
};
