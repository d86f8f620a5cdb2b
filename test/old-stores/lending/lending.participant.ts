import { empty, free, heldBy, shed, type Action } from './lending';

export default {
  name: 'old shed',
  create() {
    let now = empty;
    const listeners = new Set<() => void>();
    const dispatch = (action: Action) => {
      const next = shed(now, action);
      if (next === now) return false;
      now = next;
      listeners.forEach((f) => f());
      return true;
    };
    return {
      actions: { shed: {
        bring: (tool: any) => dispatch({ type: 'BRING', tool }),
        takeHome: (id: string) => dispatch({ type: 'TAKE_HOME', id }),
        lend: (p: any) => dispatch({ type: 'LEND', ...p }),
        giveBack: (tool: string) => dispatch({ type: 'GIVE_BACK', tool }),
        sleep: () => dispatch({ type: 'SLEEP' }),
      } },
      state: { shed: { tools: () => now.tools, loans: () => now.loans, today: () => now.today, late: () => now.late } },
      derived: { shed: { out: () => now.loans.length, free: () => free(now), heldBy: (n: string) => heldBy(now, n) } },
      watch: {
        shed: (changed: (a: unknown, b: unknown) => void) => {
          let before = now;
          const f = () => { const old = before; before = now; changed(now, old); };
          listeners.add(f);
          return () => { listeners.delete(f); };
        },
      },
    };
  },
};
