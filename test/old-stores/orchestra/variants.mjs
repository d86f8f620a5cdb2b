const file = 'Orchestra.tsx'
export default [
  { name: 'orchestra-1-stale-memo', file, mistake: 'a memo does not name all that it reads', replace: [['[pit.stands, pit.dark]);', '[pit.stands]);']] },
  { name: 'orchestra-2-pushed', file, mistake: 'the list is changed in place', replace: [['return { ...pit, stands: [...pit.stands, { id: action.id, part: action.part, light: true }] };', 'pit.stands.push({ id: action.id, part: action.part, light: true });\n      return { ...pit };']] },
  { name: 'orchestra-3-name-misspelt', file, mistake: 'a payload is read under another name', replace: [["light: action.on } : s", "light: (action as any).light ?? true } : s"]] },
  { name: 'orchestra-4-same-id', file, mistake: 'two stands of one name', replace: [["      if (pit.stands.some((s) => s.id === action.id)) return pit;\n      return { ...pit, stands: [...", "      return { ...pit, stands: [..."]] },
  { name: 'orchestra-5-counts-all', file, mistake: 'what came to nothing is counted', replace: [['return after === pit ? pit : { ...after', 'return { ...after']] },
  { name: 'orchestra-6-value-once', file, mistake: 'the value of the context is made once', replace: [['useMemo(() => ({ pit, dispatch }), [pit]);', 'useMemo(() => ({ pit, dispatch }), []);']] },
]
