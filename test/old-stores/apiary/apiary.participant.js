import { openRound } from './apiary.js'

export default {
  name: 'old round',
  create() {
    const r = openRound()
    return {
      actions: { round: {
        place: p => r.place(p.name, p.frames),
        look: p => r.look(p), sort: p => r.sort(p), pick: p => r.pick(p), pickAll: () => r.pickAll(),
        addFrames: p => r.addFrames(p), queenLost: p => r.queenLost(p), remove: () => r.remove(),
      } },
      state: { round: { hives: () => r.hives, picked: () => r.picked, query: () => r.query, order: () => r.order } },
      derived: { round: { shown: r.shown, frames: r.frames, allPicked: r.allPicked, weak: r.weak } },
    }
  },
}
