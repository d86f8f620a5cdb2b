export default [
  { name: 'seeds-1-late-answer', mistake: 'the search before is not stopped', replace: [['    running?.abort();\n    running = undefined;\n', '']] },
  { name: 'seeds-2-no-quiet', mistake: 'each key asks: the timer is not cleared', replace: [['    clearTimeout(timer);\n', '']] },
  { name: 'seeds-3-busy-stays', mistake: 'busy stays on when the text gets too short', replace: [['if (!q) return put({ busy: false });', 'if (!q) return;']] },
  { name: 'seeds-4-order-empties', mistake: 'a failed order empties the basket', replace: [['.catch(() => put({ sending: false }));', '.catch(() => put({ sending: false, bags: {} }));']] },
  { name: 'seeds-5-trim', mistake: 'blanks are sent', replace: [['return text.length < 2 ? null : { text, only: s.only };', 'return text.length < 2 ? null : { text: s.text, only: s.only };']] },
  { name: 'seeds-6-problem-stays', mistake: 'the problem stays after a good answer', replace: [['put({ hits: body, busy: false, problem: null });', 'put({ hits: body, busy: false });']] },
  { name: 'seeds-7-while-sent', mistake: 'the basket can be changed while it is sent', replace: [['if (s.sending || !s.hits.some', 'if (!s.hits.some']] },
]
