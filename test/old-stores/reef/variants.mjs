const file = 'useReef.ts'
export default [
  { name: 'reef-1-copied-out', file, mistake: 'reactivity is lost by copying a value out', replace: [["  const settings = reactive({ unit: 'm' as 'm' | 'ft' });\n", "  const settings = reactive({ unit: 'm' as 'm' | 'ft' });\n  const { unit } = settings;\n"], ["(settings.unit === 'm' ?", "(unit === 'm' ?"]] },
  { name: 'reef-2-shallow', file, mistake: 'a list that is changed in place is not followed', replace: [['  watch(() => dives.value.map((d) => d.metres), (now) => {\n    const most = Math.max(0, ...now);', '  watch(dives, (all) => {\n    const most = Math.max(0, ...all.map((d) => d.metres));']] },
  { name: 'reef-3-average-of-shown', file, mistake: 'another count', replace: [['/ dives.value.length : null', '/ shown.value.length : null']] },
  { name: 'reef-4-deepest-goes-back', file, mistake: 'the deepest is that of those that are left', replace: [['    if (most > deepest.value) deepest.value = most;', '    deepest.value = most;']] },
  { name: 'reef-5-at-the-end', file, mistake: 'at the other end of the list', replace: [['dives.value.unshift(', 'dives.value.push(']] },
  { name: 'reef-6-warned-each-time', file, mistake: 'warned of each deep dive', replace: [['    dives.value.unshift({', '    if (metres > 40 && metres <= deepest.value) warned.value++;\n    dives.value.unshift({']] },
]
