import { createChoir } from './choir';

export default {
  name: 'old choir',
  abortsCalls: false,
  create({ services }: any) {
    const c = createChoir(services.board);
    return {
      actions: { choir: { dismiss: () => c.dismiss() } },
      tasks: { choir: { load: {}, answer: { start: (p: any) => c.answer(p.name, p.comes) } } },
      state: { choir: { singers: () => c.model.singers, ready: () => c.model.ready, problem: () => c.model.problem } },
      derived: { choir: { coming: c.coming, enough: c.enough } },
    };
  },
};
