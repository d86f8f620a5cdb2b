import type { Paint } from '../../report/paint.js';
import type { Overview, StoreOverview } from './overview.js';
import type { ServiceOverview } from './task-overview.js';

/** An overview as people read it: a block for each store; names of the store itself are bare. */
export function overviewText({ title, services, stores }: Overview, paint: Paint): string {
  const head = title === null ? [] : [paint.bold(title)];
  const outside = services.map((service) => serviceText(service, paint));
  return [...head, ...outside, ...stores.map((store) => storeText(store, paint))].join('\n\n');
}

/** A service: what it is asked, what it gives, who calls it. */
function serviceText({ name, about, operations }: ServiceOverview, paint: Paint): string {
  const column = Math.max(...operations.map((one) => one.name.length), 1);
  const lines = operations.map(({ name: own, payload, result, calledBy }) => {
    const words = `${payload ?? 'nothing'} -> ${result ?? 'nothing'}`;
    const by = calledBy.length === 0 ? 'nobody calls it' : `called by ${calledBy.join(', ')}`;
    return `    ${own.padEnd(column)}  ${clipped(words, column, paint)}\n${' '.repeat(column + 6)}${paint.dim(by)}`;
  });
  const what = `  ${paint.cyan('operations')}`;
  return [
    `${paint.bold(name)}  ${paint.dim(about ?? 'a service')}`,
    ...(lines.length === 0 ? [] : [what, ...lines]),
  ].join('\n');
}

function storeText(store: StoreOverview, paint: Paint): string {
  const about = store.about === null ? '' : `  ${paint.dim(store.about)}`;
  const bare = (names: readonly string[]) =>
    names.map((name) =>
      name.startsWith(`${store.name}.`) ? name.slice(store.name.length + 1) : name,
    );
  const column = Math.max(
    ...[...store.fields, ...store.derived, ...store.actions, ...store.tasks].map(
      ({ name }) => name.length,
    ),
    1,
  );
  const line = (
    name: string,
    words: string,
    ...groups: readonly (readonly (readonly [string, readonly string[]])[])[]
  ) =>
    [
      `    ${name.padEnd(column)}  ${clipped(words, column, paint)}`.trimEnd(),
      ...groups.flatMap((links) =>
        linkLines(
          links
            .filter(([, names]) => names.length > 0)
            .map(([link, names]) => [link, bare(names)] as const),
          column + 6,
          paint,
        ),
      ),
    ].join('\n');
  const fields = store.fields.map(({ name, type, default: start }) =>
    line(name, `${type} ${paint.dim(`= ${JSON.stringify(start)}`)}`, []),
  );
  const derived = store.derived.map(({ name, given, type, reads }) => {
    const params = given.length === 0 ? '' : `(${given.map((param) => param.name).join(', ')}) -> `;
    return line(name, `${params}${type}`, [['reads', reads]]);
  });
  const actions = store.actions.map((action) => {
    const { name, payload, requires, reads, stores, causes, starts, cancels, moves } = action;
    const needs = requires.length === 0 ? '' : paint.dim(` needs ${requires.length}`);
    return line(name, `${payload ?? 'no payload'}${needs}`, [
      ['stores', stores],
      ['sets off', reactionsNamed(causes)],
      ['starts', starts],
      ['cancels', cancels],
      ['then', moves.map(moveText)],
      ['reads', reads],
    ]);
  });
  const tasks = store.tasks.map((task) => {
    const needs = task.requires.length === 0 ? '' : paint.dim(` needs ${task.requires.length}`);
    const words = `${task.payload ?? 'no payload'}${needs}`;
    return line(
      task.name,
      words,
      [
        ['calls', task.calls === null ? [] : [task.calls]],
        ['overlap', [task.overlap]],
        ...Object.entries(task.settings).map(([name, value]) => [name, [value]] as const),
      ],
      [
        ['started by', task.startedBy],
        ['cancelled by', task.cancelledBy],
      ],
      task.moments.map(
        ({ moment, stores }) => [moment, stores.length === 0 ? ['(no field)'] : stores] as const,
      ),
      [['reads', task.reads]],
    );
  });
  const reactions = store.reactions.map(({ to, reads, stores, runs, starts, cancels, moves }) =>
    line(to.join(', '), '', [
      ['stores', stores],
      ['runs', runs],
      ['starts', starts],
      ['cancels', cancels],
      ['then', moves.map(moveText)],
      ['reads', reads],
    ]),
  );
  const { history } = store;
  const undo =
    history === null
      ? []
      : [
          line('of', history.of.join(', '), [
            ['limit', [String(history.limit)]],
            ['at once', history.together],
          ]),
        ];
  const { saved } = store;
  const kept =
    saved === null
      ? []
      : [
          line(saved.key, saved.fields.join(', '), [
            ['version', saved.version === null ? [] : [String(saved.version)]],
            ['reads', [...saved.from.map(String), ...saved.old]],
          ]),
        ];
  const sections = [
    ['state', fields],
    ['derived', derived],
    ['actions', actions],
    ['tasks', tasks],
    ['reacts to', reactions],
    ['history', undo],
    ['saved as', kept],
  ] as const;
  return [
    `${paint.bold(store.name)}${store.lazy ? paint.dim('  attached later') : ''}${about}`,
    ...sections
      .filter(([, lines]) => lines.length > 0)
      .map(([heading, lines]) => `  ${paint.cyan(heading)}\n${lines.join('\n')}`),
  ].join('\n');
}

/** `deck.undo` as it is; `deck.reset` in words. */
const moveText = (move: string): string =>
  move.replace(/^(.*)\.reset$/, 'forget what can be undone in $1');

/** Names of actions as they are, and of reactions by their store: each store's once. */
function reactionsNamed(names: readonly string[]): string[] {
  return [
    ...new Set(names.map((name) => name.replace(/^(\w+)\.reacts\[\d+\]$/, 'a reaction of $1'))),
  ];
}

/** What an item reads and stores: on one line if there is room, else a line each. */
function linkLines(
  links: readonly (readonly [string, readonly string[]])[],
  indent: number,
  paint: Paint,
): string[] {
  const plain = links.map(([link, names]) => `${link} ${names.join(', ')}`).join('   ');
  if (links.length === 0) return [];
  if (indent + plain.length > paint.columns) {
    const width = Math.max(...links.map(([link]) => link.length));
    return links.map(([link, names]) => wrapped(link.padEnd(width), names, indent, paint));
  }
  const coloured = links.map(([link, names]) => `${paint.dim(link)} ${names.join(', ')}`);
  return [`${' '.repeat(indent)}${coloured.join('   ')}`];
}

function clipped(words: string, column: number, { columns }: Paint): string {
  const room = columns - column - 6;
  return words.length > room + 20 ? `${words.slice(0, room - 3)}...` : words;
}

function wrapped(link: string, names: readonly string[], indent: number, paint: Paint): string {
  const lines = [''];
  const start = indent + link.length + 1;
  for (const name of names) {
    const line = lines.at(-1) ?? '';
    const longer = line === '' ? name : `${line}, ${name}`;
    if (start + longer.length <= paint.columns) lines[lines.length - 1] = longer;
    else lines.push(name);
  }
  return `${' '.repeat(indent)}${paint.dim(link)} ${lines.join(`,\n${' '.repeat(start)}`)}`;
}
