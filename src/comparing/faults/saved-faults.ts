import type { Store } from '../../model/application.js';
import type { CodeChange, Fault, FaultKind } from './fault.js';
import type { Way } from './nodes.js';

/** Something else that can stand at a place in a model. */
interface Other {
  readonly kind: FaultKind;
  readonly way: Way;
  readonly part: unknown;
}

/** Faults in what a store says of what is saved. */
export function othersOfSaved({ saved }: Store): Other[] {
  if (saved === undefined) return [];
  const { fields, key, version, from } = saved;
  return [
    ...(fields.length < 2
      ? []
      : fields.map((_, i): Other => ({
          kind: 'field not saved',
          way: ['saved', 'fields'],
          part: fields.toSpliced(i, 1),
        }))),
    { kind: 'saved under another key', way: ['saved', 'key'], part: `${key}s` },
    ...(version === undefined
      ? []
      : [{ kind: 'another version saved', way: ['saved', 'version'], part: version + 1 } as const]),
    ...from.map((_, i): Other => ({
      kind: 'earlier version not read',
      way: ['saved', 'from'],
      part: from.toSpliced(i, 1),
    })),
  ];
}

/** Faults in what keeps things in storage: what is written there, and what takes its place. */
const rows: readonly (readonly [kind: FaultKind, file: string, from: string, to: string])[] = [
  [
    'saved before the commit',
    'saved.ts',
    'const kept = this.#keptOf(store, plan);',
    'const kept = this.#before.get(store) ?? [];',
  ],
  [
    'saved though nothing changed',
    'saved.ts',
    'if (!now.every((value, i) => Object.is(value, before[i])))',
    '',
  ],
  [
    'default in place of what was saved',
    'stored-fields.ts',
    'return Object.fromEntries(found);',
    'return {};',
  ],
  ['saved data not judged', 'stored-fields.ts', 'taken instanceof Misfit', 'taken === type'],
];

/** The faults that can be planted in what keeps things in storage, each in one style after the other. */
export function savedCodeFaults(styles: readonly string[]): readonly Fault[] {
  return rows.map(([kind, file, from, to], i): Fault => {
    const changes: readonly CodeChange[] = [{ file: `runtime/${file}`, from, to }];
    const style = styles[i % styles.length] ?? '';
    return { kind, at: file, in: 'code', style, changes };
  });
}
