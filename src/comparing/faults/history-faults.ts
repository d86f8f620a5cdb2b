import type { Store } from '../../model/application.js';
import type { CodeChange, Fault, FaultKind } from './fault.js';
import type { Way } from './nodes.js';

/** Something else that can stand at a place in a model. */
interface Other {
  readonly kind: FaultKind;
  readonly way: Way;
  readonly part: unknown;
}

/** Faults in what a store says of what can be undone. */
export function othersOfHistory({ history }: Store): Other[] {
  if (history === undefined) return [];
  const { of, limit, together } = history;
  return [
    ...(of.length < 2
      ? []
      : of.map((_, i): Other => ({
          kind: 'undo forgets a field',
          way: ['history', 'of'],
          part: of.toSpliced(i, 1),
        }))),
    { kind: 'history too long', way: ['history', 'limit'], part: limit + 1 },
    ...(limit < 2
      ? []
      : [{ kind: 'history too short', way: ['history', 'limit'], part: limit - 1 } as const]),
    ...together.map((_, i): Other => ({
      kind: 'row not undone at once',
      way: ['history', 'together'],
      part: together.toSpliced(i, 1),
    })),
  ];
}

/** Faults in what keeps histories: what is written there, and what takes its place. */
const rows: readonly (readonly [kind: FaultKind, from: string, to: string])[] = [
  [
    'redo not cleared',
    'return { past, future: [], isRow };',
    'return { past, future: before.slice(0, 1), isRow };',
  ],
  [
    'undo noted as a change',
    'if (this.#moved?.store === store) next = this.#moved.state;',
    'if (false) next = old;',
  ],
  [
    'noted though nothing changed',
    'now.some((value, i) => !Object.is(value, last[i]))',
    'now.length > 0',
  ],
];

/** The faults that can be planted in what keeps histories, each in one style after the other. */
export function historyCodeFaults(styles: readonly string[]): readonly Fault[] {
  return rows.map(([kind, from, to], i): Fault => {
    const changes: readonly CodeChange[] = [{ file: 'runtime/histories.ts', from, to }];
    const style = styles[i % styles.length] ?? '';
    return { kind, at: 'histories.ts', in: 'code', style, changes };
  });
}
