export default [
  { name: 'lending-1-late-stays', mistake: 'what is given back stays late', replace: [['        late: state.late.filter((t) => t !== action.tool),\n', '']] },
  { name: 'lending-2-three', mistake: 'three may be lent', replace: [['.length >= 2) return state;', '.length > 2) return state;']] },
  { name: 'lending-3-yesterday', mistake: 'late by the day before', replace: [['today - l.day === 3', 'state.today - l.day === 3']] },
  { name: 'lending-4-lent-taken', mistake: 'what is lent can be taken home', replace: [['lent(state, action.id) || ', '']] },
  { name: 'lending-5-pushed', mistake: 'a list is changed in place', replace: [['return { ...state, tools: [...state.tools, action.tool] };', '(state.tools as Tool[]).push(action.tool);\n      return { ...state };']] },
  { name: 'lending-6-own', mistake: 'one can borrow the own tool', replace: [[' || tool.owner === action.to', '']] },
]
