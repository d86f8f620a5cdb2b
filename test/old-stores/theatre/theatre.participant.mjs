import { Theatre } from './theatre.mjs';

export default {
  name: 'old theatre',
  create() {
    const { stage, box, bell } = new Theatre();
    return {
      actions: {
        stage: { announce: (p) => stage.announce(p), begin: () => stage.begin(), nextAct: () => stage.nextAct(), end: () => stage.end() },
        box: { sell: (p) => box.sell(p.place, p.guest), giveBack: (p) => box.giveBack(p) },
        bell: { ring: () => bell.ring() },
      },
      state: {
        stage: { play: () => stage.play, running: () => stage.running, act: () => stage.act },
        box: { seats: () => box.list, open: () => box.open, sold: () => box.sold },
        bell: { rung: () => bell.rung, last: () => bell.last },
      },
      derived: { box: { left: () => box.left } },
    };
  },
};
