import { seedPage } from './seeds';

export default {
  name: 'old seed page',
  abortsCalls: true,
  globals: {
    request(url: string, init: any) {
      const { pathname, searchParams } = new URL(url, 'http://seeds.example');
      if (pathname.endsWith('/order')) return { operation: 'catalogue.order', with: JSON.parse(init.body) };
      return { operation: 'catalogue.search', with: Object.fromEntries(searchParams) };
    },
    response(_operation: string, answer: any) {
      if ('message' in answer) return Response.json({ message: answer.message }, { status: 500 });
      return Response.json(answer.result);
    },
  },
  create() {
    const p = seedPage();
    const read = (...names: string[]) => Object.fromEntries(names.map((n) => [n, () => (p.get() as any)[n]]));
    return {
      actions: {
        search: { type: (t: string) => p.type(t), narrow: (o: any) => p.narrow(o) },
        basket: { add: (c: string) => p.add(c), takeOut: (c: string) => p.takeOut(c) },
      },
      tasks: { search: { find: {} }, basket: { order: { start: () => p.order() } } },
      state: { search: read('text', 'only', 'hits', 'busy', 'problem'), basket: read('bags', 'sending', 'receipt') },
      derived: { search: { asked: () => p.question() }, basket: { count: () => p.count() } },
    };
  },
};
