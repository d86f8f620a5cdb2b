import type { Problems } from '../problems/problem.js';
import { deedsOf, type Application, type Store } from '../../model/application.js';
import { readsOf } from '../../model/footprint.js';
import { allSteps, exprsOf, writtenFields } from '../../model/step-kinds.js';
import type { Usage } from './usage.js';

/** The number of fields that a store has at least before advice on its size is worth anything. */
const fewFields = 4;

/** Advice on design: what could be simpler. None of it is wrong. */
export function advise(application: Application, usage: Usage, problems: Problems): void {
  for (const store of application.stores) {
    adviseToSplit(store, application, problems);
    adviseOfGreatActions(store, problems);
    adviseOfPartialResets(store, problems);
    adviseOfUnread(store, usage, problems);
    adviseOfOldTexts(store, problems);
  }
}

/** Groups of fields that no action and no derived value touches together. */
function adviseToSplit(store: Store, application: Application, problems: Problems): void {
  if (store.fields.length < fewFields) return;
  const group = new Map(store.fields.map(({ name }) => [name, name]));
  const rootOf = (name: string): string => {
    const up = group.get(name) ?? name;
    return up === name ? name : rootOf(up);
  };
  for (const touched of touchedTogether(store, application)) {
    const [first, ...rest] = touched.filter((name) => group.has(name));
    if (first !== undefined) for (const name of rest) group.set(rootOf(name), rootOf(first));
  }
  const groups = groupsOf(store, rootOf);
  if (groups.size < 2) return;
  const parts = [...groups.values()].map((names) => names.join(', '));
  problems.add('could-split', store.span, { store: store.name, parts });
}

function groupsOf(store: Store, rootOf: (name: string) => string): Map<string, string[]> {
  const groups = new Map<string, string[]>();
  for (const { name } of store.fields)
    groups.set(rootOf(name), [...(groups.get(rootOf(name)) ?? []), name]);
  return groups;
}

/** The fields that each action, reaction and derived value of a store touches; a reset of everything joins nothing. */
function touchedTogether(store: Store, application: Application): readonly (readonly string[])[] {
  const own = (fields: Iterable<string>) =>
    store.fields
      .map(({ name }) => name)
      .filter((name) => [...fields].includes(`${store.name}.${name}`));
  const inSteps = deedsOf(store).map(({ steps }) => {
    const all = allSteps(steps).filter(
      (step) => step.kind !== 'reset' || step.fields.length < store.fields.length,
    );
    return [
      ...all.flatMap(writtenFields),
      ...own(readsOf(all.flatMap(exprsOf), application).fields),
    ];
  });
  return [
    ...inSteps,
    ...store.derived.map(({ value }) => own(readsOf([value], application).fields)),
  ];
}

/** Actions that set every field of a store one by one. */
function adviseOfGreatActions(store: Store, problems: Problems): void {
  if (store.fields.length < fewFields) return;
  for (const { name, span, steps } of store.actions) {
    const set = allSteps(steps).filter(({ kind }) => kind !== 'reset');
    const written = new Set(set.flatMap(writtenFields));
    if (store.fields.every((field) => written.has(field.name)))
      problems.add('stores-everything', span, { action: `${store.name}.${name}` });
  }
}

/** Parts of a store that different actions reset, each without the other. */
function adviseOfPartialResets(store: Store, problems: Problems): void {
  const resets = store.actions.flatMap((action) =>
    allSteps(action.steps).flatMap((step) =>
      step.kind === 'reset' && step.fields.length < store.fields.length
        ? [{ action, fields: step.fields }]
        : [],
    ),
  );
  for (const [i, one] of resets.entries()) {
    const other = resets
      .slice(i + 1)
      .find(({ fields }) => !fields.some((name) => one.fields.includes(name)));
    if (other === undefined) continue;
    const params = { store: store.name, one: one.action.name, other: other.action.name };
    problems.add('reset-in-parts', store.span, params);
    return;
  }
}

/** What users have kept with the application that is ported, in the form that its old code wrote. */
function adviseOfOldTexts({ saved }: Store, problems: Problems): void {
  if (saved !== undefined && saved.old === undefined)
    problems.add('old-texts', saved.span, { key: saved.key });
}

/** What no expression reads: the application may show it, or nobody needs it. */
function adviseOfUnread(store: Store, usage: Usage, problems: Problems): void {
  for (const { name, span } of store.single ? [] : store.fields)
    if (!usage.written.has(`${store.name}.${name}`))
      problems.add('unread', span, { what: 'field', name });
  for (const { name, span, value } of store.derived)
    if (value.kind !== 'history' && !usage.written.has(`${store.name}.${name}`))
      problems.add('unread', span, { what: 'derived value', name });
  const empty = store.actions.filter(
    ({ name, steps, move }) =>
      move === undefined && steps.length === 0 && !usage.run.has(`${store.name}.${name}`),
  );
  for (const { name, span } of empty) problems.add('does-nothing', span, { name });
}
