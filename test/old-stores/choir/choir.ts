export type Comes = 'yes' | 'no' | 'open';
export interface Singer { name: string; voice: 'high' | 'low'; comes: Comes }
export interface Board {
  list(): Promise<Singer[]>;
  say(what: { name: string; comes: Comes }): Promise<void>;
}

/** Says it at once, and takes it back when the board does not agree. */
export const createChoir = (board: Board) => {
  const listeners: Array<() => void> = [];
  const pending = new Set<string>();
  const model = { singers: [] as Singer[], ready: false, problem: null as string | null };
  const emit = () => { for (const l of listeners.slice()) l(); };

  const set = (name: string, comes: Comes) => {
    model.singers = model.singers.map((s) => (s.name === name ? { ...s, comes } : s));
  };

  const loaded = board.list().then(
    (singers) => { model.singers = singers; model.ready = true; emit(); },
    (e: Error) => { model.problem = e.message; emit(); },
  );

  return {
    model,
    loaded,
    onChange: (l: () => void) => { listeners.push(l); },
    coming: () => model.singers.filter((s) => s.comes === 'yes').length,
    enough: () => (['high', 'low'] as const).every((v) => model.singers.filter((s) => s.voice === v && s.comes === 'yes').length >= 2),
    answer(name: string, comes: Comes) {
      const singer = model.singers.find((s) => s.name === name);
      if (!singer || singer.comes === comes || pending.has(name)) return false;
      const was = singer.comes;
      pending.add(name);
      set(name, comes);
      model.problem = null;
      emit();
      board.say({ name, comes }).catch((e: Error) => {
        set(name, was);
        model.problem = `${name}: ${e.message}`;
      }).finally(() => {
        pending.delete(name);
        emit();
      });
      return true;
    },
    dismiss() {
      if (model.problem === null) return false;
      model.problem = null;
      emit();
      return true;
    },
  };
};
