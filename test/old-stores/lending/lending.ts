// (state, action) => state. The same state again: nothing came of it.
interface Tool { readonly id: string; readonly owner: string }
interface Loan { readonly tool: string; readonly to: string; readonly day: number }
export interface Shed {
  readonly tools: readonly Tool[];
  readonly loans: readonly Loan[];
  readonly today: number;
  readonly late: readonly string[];
}

export type Action =
  | { type: 'BRING'; tool: Tool }
  | { type: 'TAKE_HOME'; id: string }
  | { type: 'LEND'; tool: string; to: string }
  | { type: 'GIVE_BACK'; tool: string }
  | { type: 'SLEEP' };

export const empty: Shed = { tools: [], loans: [], today: 0, late: [] };
const lent = (s: Shed, tool: string) => s.loans.some((l) => l.tool === tool);

export function shed(state: Shed = empty, action: Action): Shed {
  switch (action.type) {
    case 'BRING':
      if (!action.tool.owner.trim() || state.tools.some((t) => t.id === action.tool.id)) return state;
      return { ...state, tools: [...state.tools, action.tool] };
    case 'TAKE_HOME':
      if (lent(state, action.id) || !state.tools.some((t) => t.id === action.id)) return state;
      return { ...state, tools: state.tools.filter((t) => t.id !== action.id) };
    case 'LEND': {
      const tool = state.tools.find((t) => t.id === action.tool);
      if (!tool || lent(state, action.tool) || tool.owner === action.to) return state;
      if (state.loans.filter((l) => l.to === action.to).length >= 2) return state;
      return { ...state, loans: [...state.loans, { tool: action.tool, to: action.to, day: state.today }] };
    }
    case 'GIVE_BACK':
      if (!lent(state, action.tool)) return state;
      return {
        ...state,
        loans: state.loans.filter((l) => l.tool !== action.tool),
        late: state.late.filter((t) => t !== action.tool),
      };
    case 'SLEEP': {
      const today = state.today + 1;
      const newlyLate = state.loans.filter((l) => today - l.day === 3).map((l) => l.tool);
      return { ...state, today, late: [...state.late, ...newlyLate] };
    }
    default:
      return state;
  }
}

export const free = (s: Shed) => s.tools.filter((t) => !lent(s, t.id)).map((t) => t.id);
export const heldBy = (s: Shed, name: string) => s.loans.filter((l) => l.to === name).map((l) => l.tool);
