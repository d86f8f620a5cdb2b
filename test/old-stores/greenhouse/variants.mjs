export default [
  { name: 'greenhouse-1-stale-label', mistake: 'a made value does not know all that it is made of', replace: [['made([warmth, target, manual], ', 'made([warmth, target], ']] },
  { name: 'greenhouse-2-in-place', mistake: 'a map is changed in place, and nobody is told', replace: [['beds.change((all) => { const rest = new Map(all); rest.delete(bed); return rest; });', 'beds.change((all) => { all.delete(bed); return all; });']] },
  { name: 'greenhouse-3-bound', mistake: 'half a degree too early', replace: [["over > 5 ? 'open'", "over >= 5 ? 'open'"]] },
  { name: 'greenhouse-4-vent-by-hand', mistake: 'the vents follow although they are turned by hand', replace: [['    if (manual.get()) return;\n', '']] },
  { name: 'greenhouse-5-log-grows', mistake: 'the log keeps six lines', replace: [['.slice(-5)', '.slice(-6)']] },
  { name: 'greenhouse-6-key-twice', mistake: 'the plant is named where the bed is meant', replace: [['note(`${gone.plant} out of ${bed}`)', 'note(`${bed} out of ${gone.plant}`)']] },
]
