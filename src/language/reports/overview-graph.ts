import type { Overview } from './overview.js';

interface Edge {
  readonly from: string;
  readonly to: string;
  readonly kind: 'reads' | 'stores' | 'runs' | 'sets off' | 'starts' | 'cancels' | 'calls';
}

/** An arrow leads from what is read to what reads it, and from an action to what it stores to and sets off. */
function edgesOf({ stores }: Overview): readonly Edge[] {
  return stores.flatMap((store) => [
    ...store.derived.flatMap(({ name, reads }) =>
      reads.map((from): Edge => ({ from, to: `${store.name}.${name}`, kind: 'reads' })),
    ),
    ...store.tasks.flatMap(({ name, calls, moments, startedBy, cancelledBy }) => {
      const own = `${store.name}.${name}`;
      return [
        ...(calls === null ? [] : [{ from: own, to: calls, kind: 'calls' } as const]),
        ...moments
          .flatMap((one) => one.stores)
          .map((to): Edge => ({ from: own, to, kind: 'stores' })),
        ...doersIn(startedBy).map((from): Edge => ({ from, to: own, kind: 'starts' })),
        ...doersIn(cancelledBy).map((from): Edge => ({ from, to: own, kind: 'cancels' })),
      ];
    }),
    ...store.actions.flatMap(({ name, stores: stored, runs }) => [
      ...stored.map((to): Edge => ({ from: `${store.name}.${name}`, to, kind: 'stores' })),
      ...runs.map((to): Edge => ({ from: `${store.name}.${name}`, to, kind: 'runs' })),
    ]),
    ...store.reactions.flatMap(({ to: causes, stores: stored, runs }) =>
      doersIn(causes).flatMap((from) =>
        [...stored, ...runs].map((to): Edge => ({ from, to, kind: 'sets off' })),
      ),
    ),
  ]);
}

/** Those that are actions, or tasks at one of their moments: by their names. */
function doersIn(names: readonly string[]): readonly string[] {
  return names
    .filter((name) => /^\w+\.\w+(\.\w+)?$/.test(name))
    .map((name) => name.split('.').slice(0, 2).join('.'));
}

const quoted = (text: string) => JSON.stringify(text);

/** The graph of an application for Graphviz: a cluster for each store. */
export function overviewDot(overview: Overview): string {
  const clusters = overview.stores.map(({ name, fields, derived, actions, tasks }) => {
    const node = (own: string, shape: string) =>
      `    ${quoted(`${name}.${own}`)} [label=${quoted(own)}, shape=${shape}];`;
    return [
      `  subgraph ${quoted(`cluster_${name}`)} {`,
      `    label=${quoted(name)};`,
      ...fields.map((field) => node(field.name, 'box')),
      ...derived.map((value) => node(value.name, 'ellipse')),
      ...actions.map((action) => node(action.name, 'cds')),
      ...tasks.map((task) => node(task.name, 'component')),
      '  }',
    ].join('\n');
  });
  const styles = {
    reads: 'solid',
    stores: 'bold',
    runs: 'dashed',
    'sets off': 'dotted',
    starts: 'dashed',
    cancels: 'dotted',
    calls: 'bold',
  } as const;
  const edges = edgesOf(overview).map(
    ({ from, to, kind }) => `  ${quoted(from)} -> ${quoted(to)} [style=${styles[kind]}];`,
  );
  return ['digraph stores {', '  rankdir=LR;', ...clusters, ...edges, '}'].join('\n');
}

/** The graph of an application as a Mermaid flowchart. */
export function overviewMermaid(overview: Overview): string {
  const ids = new Map<string, string>();
  const idOf = (name: string): string => {
    const id = ids.get(name) ?? `n${ids.size}`;
    ids.set(name, id);
    return id;
  };
  const groups = overview.stores.map(({ name, fields, derived, actions, tasks }, i) => [
    `  subgraph s${i}["${name}"]`,
    ...fields.map((field) => `    ${idOf(`${name}.${field.name}`)}["${field.name}"]`),
    ...derived.map((value) => `    ${idOf(`${name}.${value.name}`)}("${value.name}")`),
    ...actions.map((action) => `    ${idOf(`${name}.${action.name}`)}>"${action.name}"]`),
    ...tasks.map((task) => `    ${idOf(`${name}.${task.name}`)}[["${task.name}"]]`),
    '  end',
  ]);
  const arrows = {
    reads: '-->',
    stores: '==>',
    runs: '-.->',
    'sets off': '-.->',
    starts: '-.->',
    cancels: '-.->',
    calls: '==>',
  } as const;
  const outside = overview.services.map(({ name, operations }, i) => [
    `  subgraph o${i}["${name}"]`,
    ...operations.map((one) => `    ${idOf(`${name}.${one.name}`)}(["${one.name}"])`),
    '  end',
  ]);
  const edges = edgesOf(overview).map(
    ({ from, to, kind }) => `  ${idOf(from)} ${arrows[kind]} ${idOf(to)}`,
  );
  return ['flowchart LR', ...groups.flat(), ...outside.flat(), ...edges].join('\n');
}
