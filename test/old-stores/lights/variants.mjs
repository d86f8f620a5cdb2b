export default [
  { name: 'lights-1-locked-fades', mistake: 'locked lamps fade', replace: [['b.picked.includes(l.id) && !l.locked ?', 'b.picked.includes(l.id) ?']] },
  { name: 'lights-2-picked-stays', mistake: 'what is gone is picked still', replace: [[', picked: b.picked.filter((x) => x !== id) };\n  },\n  pick:', ' };\n  },\n  pick:']] },
  { name: 'lights-3-problem-stays', mistake: 'the problem stays', replace: [['nextLamp: b.nextLamp + 1, problem: null };', 'nextLamp: b.nextLamp + 1 };']] },
  { name: 'lights-4-cue-in-place', mistake: 'the list of cues is changed in place', replace: [["const cues = b.cues.filter((c) => c.name !== p.name);\n    cues.splice(p.to, 0, b.cues[from]!);\n    return { ...b, cues, at: -1 };", "const [cue] = b.cues.splice(from, 1);\n    b.cues.splice(p.to, 0, cue!);\n    return { ...b, at: -1 };"]] },
  { name: 'lights-5-cue-goes-on', mistake: 'after a move the next cue is another', replace: [['return { ...b, cues, at: -1 };', 'return { ...b, cues };']] },
  { name: 'lights-6-dark-cue', mistake: 'lamps that are dark in a cue stay as they are', replace: [['?.level ?? 0 })) };', '?.level ?? l.level })) };']] },
]
