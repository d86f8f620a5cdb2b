import './tram.js';

export default {
  name: 'old board',
  document: true,
  settlesLater: true,
  saves: true,
  keepsSnapshots: false,
  create() {
    const b = window.tram.open();
    return {
      actions: { board: { goTo: (s) => b.goTo(s), expect: (p) => b.expect(p.line, p.minutes), minute: () => b.minute(), enlarge: (on) => b.enlarge(on) } },
      state: { board: { stop: () => b.stop, lines: () => b.lines, large: () => b.large, visits: () => b.visits, drawn: () => b.drawn } },
      derived: { board: {
        title: () => document.body.dataset.title,
        next: () => [...b.lines].sort((x, y) => x.minutes - y.minutes || x.line - y.line)[0]?.line ?? null,
      } },
    };
  },
};
