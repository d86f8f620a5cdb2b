import { createContext, useContext, useMemo, useReducer, type Dispatch, type ReactNode } from 'react';

export type Part = 'strings' | 'wind' | 'brass';
export interface Stand { id: string; part: Part; light: boolean }
export interface Pit { stands: Stand[]; piece: string; dark: boolean; steps: number }
export type Action =
  | { do: 'place'; id: string; part: Part }
  | { do: 'light'; id: string }
  | { do: 'lightPart'; part: Part; on: boolean }
  | { do: 'announce'; piece: string }
  | { do: 'blackout' };

function next(pit: Pit, action: Action): Pit {
  switch (action.do) {
    case 'place':
      if (pit.stands.some((s) => s.id === action.id)) return pit;
      return { ...pit, stands: [...pit.stands, { id: action.id, part: action.part, light: true }] };
    case 'light':
      if (!pit.stands.some((s) => s.id === action.id)) return pit;
      return { ...pit, stands: pit.stands.map((s) => (s.id === action.id ? { ...s, light: !s.light } : s)) };
    case 'lightPart':
      return { ...pit, stands: pit.stands.map((s) => (s.part === action.part ? { ...s, light: action.on } : s)) };
    case 'announce':
      return { ...pit, piece: action.piece };
    case 'blackout':
      return { ...pit, dark: !pit.dark };
  }
}

function reducer(pit: Pit, action: Action): Pit {
  const after = next(pit, action);
  return after === pit ? pit : { ...after, steps: pit.steps + 1 };
}

const PitContext = createContext<{ pit: Pit; dispatch: Dispatch<Action> } | null>(null);

export function PitProvider({ children }: { children: ReactNode }) {
  const [pit, dispatch] = useReducer(reducer, { stands: [], piece: '', dark: false, steps: 0 });
  const value = useMemo(() => ({ pit, dispatch }), [pit]);
  return <PitContext value={value}>{children}</PitContext>;
}

export function usePit() {
  const value = useContext(PitContext);
  if (!value) throw new Error('usePit outside of PitProvider');
  const { pit, dispatch } = value;
  const lit = useMemo(() => pit.stands.filter((s) => s.light && !pit.dark).map((s) => s.id), [pit.stands, pit.dark]);
  const heading = useMemo(() => (pit.piece === '' ? 'no piece' : `${pit.piece} for ${pit.stands.length}`), [pit.piece, pit.stands]);
  return { pit, dispatch, lit, heading };
}
