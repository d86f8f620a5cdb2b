export default [
  { name: 'apiary-1-picked-stay', mistake: 'what was removed stays picked', replace: [['      hives = hives.filter(h => !isPicked(h.id))\n      picked = []\n', '      hives = hives.filter(h => !isPicked(h.id))\n']] },
  { name: 'apiary-2-no-trim', mistake: 'a name is not trimmed before it is looked for', replace: [["      name = name.trim()\n      if (name === '') return false\n", "      if (name.trim() === '') return false\n"]] },
  { name: 'apiary-3-query-case', mistake: 'the query keeps its case', replace: [['query.trim().toLowerCase()', 'query.trim()']] },
  { name: 'apiary-4-frames-above', mistake: 'no upper bound', replace: [['Math.max(0, Math.min(12, h.frames + n))', 'Math.max(0, h.frames + n)']] },
  { name: 'apiary-5-all-of-none', mistake: 'all of none are picked', replace: [['hives.length > 0 && hives.every', 'hives.every']] },
  { name: 'apiary-6-queen-in-weak', mistake: 'hives without a queen are not weak', replace: [['h.frames < below || !h.queen', 'h.frames < below']] },
]
