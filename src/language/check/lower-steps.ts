import { nearest } from '../../base/suggest.js';
import type { Expr } from '../../model/expressions.js';
import { allSteps, reachesFar, writtenFields } from '../../model/step-kinds.js';
import type { Path, Step } from '../../model/steps.js';
import { typeText } from '../../model/type-text.js';
import { resolve, text, type Type } from '../../model/types.js';
import { entriesOf, entryOf, itemsOf, textOf, valueOf, type Located } from '../syntax/located.js';
import type { Expressions } from './expressions.js';
import { requireCondition, warnOfForegone } from './infer/operators.js';
import { afterAnything, afterWriting, assume, withLocals, type Scope } from './infer/scope.js';
import { lowerLet } from './lower-let.js';
import { actionNamed, moveNamed, taskNamed } from './action-names.js';
import { ListSteps } from './lower-list-steps.js';

/** The keywords by which a schema says each kind of step. */
const keywordsOf = {
  set: ['set'],
  add: ['append', 'prepend', 'insert'],
  put: ['put'],
  update: ['update'],
  updateEntries: ['update'],
  remove: ['remove'],
  removeEntries: ['remove'],
  drop: ['drop'],
  toggle: ['toggle'],
  move: ['move'],
  when: ['when'],
  let: ['let'],
  reset: ['reset'],
  resetStores: ['reset'],
  history: ['reset', 'run'],
  run: ['run'],
  start: ['start'],
  cancel: ['cancel'],
} as const satisfies Readonly<Record<Step['kind'], readonly string[]>>;
type Keyword = (typeof keywordsOf)[Step['kind']][number];
const keywords = [...new Set<Keyword>(Object.values(keywordsOf).flat())];

/** Keys that may stand beside the step's own. */
const companions: Readonly<Record<string, readonly string[]>> = {
  when: ['then', 'else'],
  set: ['none'],
  run: ['payload'],
  start: ['payload'],
};

/** The steps that may say nothing: they do nothing then. */
const mayBeEmpty: ReadonlySet<Keyword> = new Set(['set', 'let', 'reset']);

/** Checks a list of steps; each sees what the ones before it did. */
export function lowerSteps(
  nodes: readonly Located[],
  at: string,
  scope: Scope,
  cx: Expressions,
): Step[] {
  const steps: Step[] = [];
  let here = scope;
  for (const [i, node] of nodes.entries()) {
    const step = lowerStep(node, `${at}[${i}]`, here, cx);
    if (step === undefined) continue;
    steps.push(step);
    if (step.kind === 'let')
      here = withLocals(
        here,
        step.bindings.map(({ name, value }) => [name, value.type] as const),
      );
    here = reachesFar(step)
      ? afterAnything(here)
      : afterWriting(here, allSteps([step]).flatMap(writtenFields));
  }
  return steps;
}

function lowerStep(node: Located, at: string, scope: Scope, cx: Expressions): Step | undefined {
  const keyword = keywordOf(node, cx);
  if (keyword === undefined) return undefined;
  const base = { at, span: entryOf(node, keyword)?.keySpan ?? node.span };
  const body = valueOf(node, keyword) as Located;
  const isEmpty = body.kind !== 'scalar' && entriesOf(body).length + itemsOf(body).length === 0;
  if (isEmpty && mayBeEmpty.has(keyword)) {
    cx.problems.add('empty-step', base.span, { kind: keyword });
    return undefined;
  }
  const lowering = new StepLowering(body, node, base, scope, cx);
  return lowering[keyword]();
}

function keywordOf(node: Located, cx: Expressions): Keyword | undefined {
  const keys = entriesOf(node).map(({ key }) => key);
  const found = keywords.filter((keyword) => keys.includes(keyword));
  const [keyword] = found;
  if (keyword === undefined || found.length > 1) {
    const hint = `A step has one of: ${keywords.join(', ')}.`;
    const detail =
      keyword === undefined
        ? 'This step does nothing.'
        : `This is ${found.length} steps in one: ${found.join(', ')}.`;
    cx.problems.add('wrong-structure', node.span, { detail, hint });
    return undefined;
  }
  const stray = entriesOf(node).find(
    ({ key }) => key !== keyword && !(companions[keyword] ?? []).includes(key),
  );
  if (stray === undefined) return keyword;
  cx.problems.add('wrong-structure', stray.keySpan, {
    detail: `'${stray.key}' does not go with '${keyword}'.`,
  });
  return undefined;
}

/** Every step; those on lists are inherited. */
class StepLowering extends ListSteps {
  set(): Step | undefined {
    const entries: { path: Path; value: Expr }[] = [];
    for (const { key, keySpan, value } of entriesOf(this.body)) {
      const path = this.path(key, keySpan);
      if (path === undefined) this.cx.read(value, this.scope);
      else entries.push({ path, value: this.fitting(value, path.type, `'${path.text}'`) });
    }
    this.#refuseOverlaps(entries.map(({ path }) => path));
    return { kind: 'set', ...this.base, entries, none: textOf(valueOf(this.step, 'none')) };
  }

  let(): Step | undefined {
    const { bindings } = lowerLet(this.body, this.scope, this.cx);
    return { kind: 'let', ...this.base, bindings };
  }

  drop(): Step | undefined {
    const path = this.pathAt('from');
    if (path === undefined) return undefined;
    const open = resolve(path.type, this.cx.types);
    const key = valueOf(this.body, 'key') as Located;
    const none = textOf(valueOf(this.body, 'none'));
    if (open.kind === 'map') {
      return {
        kind: 'drop',
        ...this.base,
        from: path,
        key: this.fitting(key, text, 'A key of a dictionary'),
        none,
      };
    }
    if (open.kind !== 'record') {
      return this.wrong(
        `'drop' is for dictionaries and optional properties, but '${path.text}' is ${typeText(path.type, this.cx.types)}.`,
      );
    }
    const name = textOf(key) ?? '';
    const field = open.fields.find((candidate) => candidate.name === name);
    if (field?.optional === true)
      return { kind: 'drop', ...this.base, from: path, key: name, none };
    if (field !== undefined)
      return this.wrong(`'${name}' is not optional: it cannot be dropped.`, key.span);
    const near = nearest(
      name,
      open.fields.map((candidate) => candidate.name),
    );
    this.cx.problems.add('no-such-property', key.span, {
      name,
      of: typeText(path.type, this.cx.types),
      near,
    });
    return undefined;
  }

  when(): Step | undefined {
    const test = this.cx.read(this.body, this.scope);
    requireCondition(this.cx, test, "'when'");
    warnOfForegone(this.cx, test, this.scope);
    const branch = (name: 'then' | 'else') => {
      const scope = assume(this.scope, test, name === 'then', this.cx.types);
      return lowerSteps(
        itemsOf(valueOf(this.step, name)),
        `${this.base.at}.${name}`,
        scope,
        this.cx,
      );
    };
    const [then, otherwise] = [branch('then'), branch('else')];
    if (valueOf(this.step, 'then') === undefined)
      return this.wrong("'when' takes 'then': the steps to do.");
    return { kind: 'when', ...this.base, test, then, else: otherwise };
  }

  reset(): Step | undefined {
    const { fields } = this.scope.store;
    if (this.body.kind === 'map') return this.#resetStores(this.body);
    if (textOf(this.body) === 'all')
      return { kind: 'reset', ...this.base, fields: [...fields.keys()] };
    if (textOf(this.body) === 'history') {
      const { name: store, history } = this.scope.store;
      if (history === undefined) return this.wrong(`The store '${store}' has no history.`);
      return { kind: 'history', ...this.base, store, does: 'reset' };
    }
    if (this.body.kind !== 'list')
      return this.wrong("'reset' takes 'all', 'history' or a list of fields.");
    const names = this.body.items.map((item) => ({ name: textOf(item) ?? '', span: item.span }));
    for (const { name, span } of names.filter((item) => !fields.has(item.name))) {
      this.cx.problems.add('unknown-name', span, {
        name,
        near: nearest(name, fields.keys()),
        textFits: false,
      });
    }
    return {
      kind: 'reset',
      ...this.base,
      fields: [...new Set(names.map(({ name }) => name))].filter((name) => fields.has(name)),
    };
  }

  #resetStores(body: Located): Step {
    return { kind: 'resetStores', ...this.base, stores: this.#listedStores(body) };
  }

  /** The stores that `{ stores, except }` names, in schema order. */
  #listedStores(body: Located): readonly string[] {
    const known = this.cx.declarations.stores;
    const listed = (key: string) => {
      const names = itemsOf(valueOf(body, key)).map((item) => ({
        name: textOf(item) ?? '',
        span: item.span,
      }));
      for (const { name, span } of names.filter((item) => !known.has(item.name))) {
        const near = nearest(name, known.keys());
        this.cx.problems.add('unknown-name', span, { name, near, textFits: false });
      }
      return names.map(({ name }) => name);
    };
    const stores = valueOf(body, 'stores');
    const all = stores?.kind === 'scalar' && textOf(stores) === 'all';
    if (stores?.kind === 'scalar' && !all)
      this.wrong("'stores' takes 'all' or a list of stores.", stores.span);
    const chosen = new Set(all ? known.keys() : listed('stores'));
    const except = new Set(listed('except'));
    return [...known.keys()].filter((name) => chosen.has(name) && !except.has(name));
  }

  run(): Step | undefined {
    const ofHistory = moveNamed(this.body, this.scope.store, this.cx);
    if (ofHistory !== undefined) {
      const { store, move } = ofHistory;
      const given = entryOf(this.step, 'payload');
      if (given !== undefined)
        return this.wrong(`'${store}.${move}' takes no payload.`, given.keySpan);
      return { kind: 'history', ...this.base, store, does: move };
    }
    const target = actionNamed(this.body, this.scope.store, this.cx);
    const given = this.#payloadFor(target, target?.action);
    if (target === undefined || given === undefined) return undefined;
    const { store, action } = target;
    return { kind: 'run', ...this.base, store, action, ...given };
  }

  start(): Step | undefined {
    const target = taskNamed(this.body, this.scope.store, this.cx);
    const given = this.#payloadFor(target, target?.task);
    if (target === undefined || given === undefined) return undefined;
    const { store, task } = target;
    return { kind: 'start', ...this.base, store, task, ...given };
  }

  /** What an action or a task is given by a step; nothing if that is wrong. */
  #payloadFor(
    target: { store: string; payload: Type | undefined; hasDefault: boolean } | undefined,
    own: string | undefined,
  ): { readonly payload: Expr | undefined } | undefined {
    const given = valueOf(this.step, 'payload');
    if (target === undefined || own === undefined) {
      if (given !== undefined) this.cx.read(given, this.scope);
      return undefined;
    }
    const { payload: wanted, hasDefault } = target;
    const name = `'${target.store}.${own}'`;
    if (given === undefined) {
      if (wanted === undefined || hasDefault) return { payload: undefined };
      return this.wrong(`${name} takes a payload: ${typeText(wanted, this.cx.types)}.`);
    }
    if (wanted === undefined) {
      this.cx.read(given, this.scope);
      return this.wrong(`${name} takes no payload.`, entryOf(this.step, 'payload')?.keySpan);
    }
    return { payload: this.fitting(given, wanted, name) };
  }

  cancel(): Step | undefined {
    const { store } = this.scope;
    const tasksOf = (name: string) =>
      [...(this.cx.declarations.stores.get(name)?.tasks.keys() ?? [])].map((task) => ({
        store: name,
        task,
      }));
    const base = { kind: 'cancel', ...this.base } as const;
    if (this.body.kind === 'map') {
      const task = valueOf(this.body, 'task');
      if (task === undefined) {
        const tasks = this.#listedStores(this.body).flatMap(tasksOf);
        return { ...base, tasks, per: undefined };
      }
      const target = taskNamed(task, store, this.cx);
      const node = valueOf(this.body, 'per');
      const per = node === undefined ? undefined : this.cx.read(node, this.scope);
      return target && { ...base, tasks: [{ store: target.store, task: target.task }], per };
    }
    if (textOf(this.body) === 'all') {
      if (store.tasks.size === 0) return this.wrong(`The store '${store.name}' has no tasks.`);
      return { ...base, tasks: tasksOf(store.name), per: undefined };
    }
    const target = taskNamed(this.body, store, this.cx);
    return (
      target && { ...base, tasks: [{ store: target.store, task: target.task }], per: undefined }
    );
  }

  #refuseOverlaps(paths: readonly Path[]): void {
    for (const [i, path] of paths.entries()) {
      const other = paths.slice(0, i).find((before) => overlap(before.text, path.text));
      if (other === undefined) continue;
      const related = [{ message: 'the other', span: other.span }];
      this.cx.problems.add(
        'overlapping-paths',
        path.span,
        { first: other.text, second: path.text },
        related,
      );
    }
  }
}

/** Whether one path leads through the other, or two go through lists or dictionaries of one field. */
function overlap(a: string, b: string): boolean {
  const [short, long] = a.length <= b.length ? [a, b] : [b, a];
  if (short === long) return true;
  return long.startsWith(short) && /^[.[]/.test(long.slice(short.length));
}
