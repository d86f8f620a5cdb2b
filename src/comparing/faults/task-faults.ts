import type { Store } from '../../model/application.js';
import type { Step } from '../../model/steps.js';
import type { Overlap, Task } from '../../model/tasks.js';
import type { CodeChange, Fault, FaultKind } from './fault.js';
import type { Way } from './nodes.js';

/** Something else that can stand at a place in a model. */
interface Other {
  readonly kind: FaultKind;
  readonly way: Way;
  readonly part: unknown;
}

/** Faults in the tasks of a store, as it is in a model. */
export function othersOfTasks({ tasks }: Store): Other[] {
  return tasks.flatMap((task, i) => othersOfTask(task, ['tasks', i]));
}

/** The rule that each rule is most easily mistaken for. */
const mistaken: Readonly<Record<Overlap, Overlap>> = {
  latest: 'first',
  first: 'latest',
  queue: 'parallel',
  parallel: 'queue',
};

function othersOfTask(task: Task, way: Way): Other[] {
  const { overlap, per, every, steps } = task;
  return [
    { kind: 'overlap mistaken', way: [...way, 'overlap'], part: mistaken[overlap] },
    ...(overlap === 'latest'
      ? [{ kind: 'older run goes on', way: [...way, 'overlap'], part: 'parallel' } as const]
      : []),
    ...(per === undefined
      ? []
      : [{ kind: 'per forgotten', way: [...way, 'per'], part: undefined } as const]),
    ...(every === undefined
      ? []
      : [{ kind: 'repeat forgotten', way: [...way, 'every'], part: undefined } as const]),
    ...(['finish', 'fail', 'cancel'] as const).flatMap((moment) =>
      steps[moment].flatMap((step, i) => flagLeftOn(step, [...way, 'steps', moment, i])),
    ),
  ];
}

/** A step that turns a flag off, without that. */
function flagLeftOn(step: Step, way: Way): Other[] {
  if (step.kind !== 'set') return [];
  return step.entries.flatMap(({ value }, i): Other[] => {
    if (value.kind !== 'literal' || value.value !== false) return [];
    return [{ kind: 'flag left on', way: [...way, 'entries'], part: step.entries.toSpliced(i, 1) }];
  });
}

/** Faults in what runs the tasks of generated stores: what is written there, what takes its place, in which file. */
const rows: readonly (readonly [
  kind: FaultKind,
  ...changes: readonly (readonly [from: string, to: string, file?: string])[],
])[] = [
  [
    'late answer not dropped',
    ['if (live.calls !== call) return false;', '', 'call'],
    [
      'const run = this.#live.has(live.number) ? this.#runOf(live) : undefined;',
      'const run = this.#runOf(live) ?? { number: live.number, payload: live.name, given: {}, per: undefined };',
    ],
    [
      'return run === undefined || calls !== live.calls ? this.late() : work(run);',
      'return work(run as Run);',
    ],
  ],
  ['abort forgotten', ['if (isAborted) controller?.abort();', '', 'call']],
  ['one retry too many', ['live.attempt >= times', 'live.attempt > times', 'task-times']],
  ['one retry too few', ['live.attempt >= times', 'live.attempt + 1 >= times', 'task-times']],
  ['time limit from the first call', ['unlimit?.();', '', 'call']],
  ['start lost', ['[...waiting, { payload, per, tell }]', '[{ payload, per, tell }]']],
  [
    'start asked twice',
    [
      'turns.asked.push({ name, payload, go });',
      'turns.asked.push({ name, payload, go }, { name, payload, go });',
    ],
  ],
  [
    'follows at creation',
    ["if (isFirst && 'follows' in auto && auto.first !== true)", 'if (false)', 'following'],
  ],
  [
    'stale value followed',
    [
      "startUnasked(name, 'follows' in auto ? value : undefined);",
      "startUnasked(name, 'follows' in auto ? (before?.value ?? value) : undefined);",
      'following',
    ],
  ],
  [
    'result not judged',
    [
      'taken instanceof Misfit ? undefined : { value: taken }',
      '{ value: taken instanceof Misfit ? value : taken }',
      'answers',
    ],
  ],
  ['stream not given up', ['stop?.();', '', 'call']],
  ['run goes on after a cancel', ['runs.filter((one) => !isMeant(one)),', 'runs,']],
  ['running too early off', ['running: runs.length > 0,', 'running: runs.length === 1,']],
  ['wait forgotten', ['if (ms > 0) live.after', 'if (ms < 0) live.after']],
];

/** The faults that can be planted in what runs the tasks of generated stores, each in one style after the other. */
export function taskCodeFaults(styles: readonly string[]): readonly Fault[] {
  return rows.flatMap(([kind, ...changes], i): Fault[] => {
    const planted = (style: string): Fault => ({
      kind,
      at: 'tasks.ts',
      in: 'code',
      style,
      changes: changes.map(([from, to, file = 'tasks']): CodeChange => ({
        file: `runtime/${file}.ts`,
        from,
        to,
      })),
    });
    // What every port gets wrong first is looked for in all styles, the rest in one each.
    return kind === 'late answer not dropped'
      ? styles.map(planted)
      : [planted(styles[i % styles.length] ?? '')];
  });
}
