import { Sketch } from './sketch.js';

export default {
  name: 'old sketch',
  create() {
    const s = new Sketch();
    return {
      actions: { sketch: {
        useColour: (c) => s.use(c), draw: (at) => s.draw(at), wipe: (at) => s.wipe(at), rename: (n) => s.rename(n),
        clear: () => s.clear(), undo: () => s.undo(), redo: () => s.redo(),
      } },
      state: { sketch: { dots: () => s.dots, colour: () => s.colour, name: () => s.name } },
      derived: { sketch: {
        ink: () => s.dots.filter((d) => d.colour === 'ink').length, isEmpty: () => s.dots.length === 0,
        canUndo: () => s.canUndo, canRedo: () => s.canRedo,
      } },
    };
  },
};
