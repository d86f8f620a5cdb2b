import {
  deedsOf,
  exprOf,
  named,
  storeNamed,
  type Application,
  type Store,
} from '../../model/application.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import { allSteps, exprsOf, namesOfEach, pathsOf } from '../../model/step-kinds.js';
import type { Path, Step } from '../../model/steps.js';
import { exprsOfTask } from '../../model/tasks.js';

/** One step of a trail: into a property, to an item that a part of the payload picks, or to any item. */
export type Stop =
  | { readonly kind: 'property'; readonly name: string }
  /** `by`: the property of the items that the part equals; the position in a list, or the key of an entry, if not given. */
  | { readonly kind: 'picked'; readonly part: string; readonly by: string | undefined }
  | { readonly kind: 'any' };

/** A way through the state that parts of a payload lead: `tables[payload.table].seats[payload.seat]`. */
export interface Trail {
  /** Where it begins in the state, as a JSON Pointer: `/floor/tables`. */
  readonly root: string;
  readonly stops: readonly Stop[];
  /** The part of the payload that equals what stands at the end; none if it only has to be there. */
  readonly equals?: string;
}

const known = new WeakMap<Application, Map<string, readonly Trail[]>>();

/** The trails of an action or a task, `floor.order`: those that bind most parts first. */
export function trailsOf(application: Application, name: string): readonly Trail[] {
  let all = known.get(application);
  if (all === undefined) {
    all = new Map(application.stores.flatMap((store) => trailsIn(application, store)));
    known.set(application, all);
  }
  return all.get(name) ?? [];
}

function trailsIn(
  application: Application,
  store: Store,
): readonly (readonly [string, readonly Trail[]])[] {
  const found = new Map<string, Trails>();
  for (const { at, requires, let: bindings, steps } of deedsOf(store)) {
    const name = at.split('.').slice(0, 2).join('.');
    const own = found.get(name) ?? new Trails(application);
    found.set(name, own);
    for (const one of requires) own.follow(exprOf(one), start);
    for (const { name: local, value } of bindings) own.bind(local, value);
    for (const step of allSteps(steps)) own.followStep(store, step);
  }
  for (const task of store.tasks)
    for (const expr of exprsOfTask(task))
      found.get(`${store.name}.${task.name}`)?.follow(expr, start);
  return [...found].map(([name, trails]) => [name, trails.longestFirst()]);
}

/** What a name stands for: a part of the payload, or what stands at the end of a trail. */
type Meant = { readonly part: string } | { readonly trail: Trail };
type Names = ReadonlyMap<string, Meant>;

const start: Names = new Map([['payload', { part: '' }]]);

/** Derived values with parameters may ask others: so many deep are gone into. */
const deepest = 3;

class Trails {
  readonly #found = new Map<string, Trail>();
  #bound: Names = start;
  #depth = 0;

  constructor(readonly application: Application) {}

  longestFirst(): readonly Trail[] {
    const parts = ({ stops, equals }: Trail) =>
      stops.filter(({ kind }) => kind === 'picked').length + (equals === undefined ? 0 : 0.5);
    return [...this.#found.values()].sort((one, other) => parts(other) - parts(one));
  }

  bind(name: string, value: Expr): void {
    this.follow(value, this.#bound);
    const meant = this.#meaning(value, this.#bound);
    if (meant !== undefined) this.#bound = new Map([...this.#bound, [name, meant]]);
  }

  followStep(store: Store, step: Step): void {
    for (const expr of exprsOf(step)) this.follow(expr, this.#bound);
    for (const path of pathsOf(step)) {
      const trail = this.#trailOfPath(store, path);
      this.#note(trail);
      if (!('choice' in step)) continue;
      const { choice } = step;
      if (choice.kind === 'key')
        this.#note(this.#picked(trail, choice.value, choice.key, this.#bound));
      else {
        const [item] = namesOfEach(step);
        this.#note(this.#pickedBy(trail, item, choice.test, this.#bound));
      }
    }
  }

  /** The trail that begins at a field. */
  #from(store: string, field: string): Trail {
    const { single } = storeNamed(this.application, store);
    return { root: single ? `/${store}` : `/${store}/${field}`, stops: [] };
  }

  #trailOfPath(store: Store, { field, segments }: Path): Trail {
    let trail = this.#from(store.name, field);
    for (const segment of segments)
      trail =
        segment.kind === 'property'
          ? into(trail, { kind: 'property', name: segment.name })
          : this.#picked(trail, segment.value, keyOf(segment), this.#bound);
    return trail;
  }

  /** Notes the trails that stand in an expression. */
  follow(expr: Expr, names: Names): void {
    walkExpr(expr, (node) => {
      if (node.kind === 'index' || node.kind === 'method') {
        const meant = this.#meaning(node, names);
        if (meant !== undefined && 'trail' in meant) this.#note(meant.trail);
      }
      if (node.kind === 'method') this.#followMethod(node, names);
      if (node.kind === 'ask')
        this.#ask(node, (value, within) => this.follow(value, within), names);
      if (node.kind === 'binary' && (node.operator === '===' || node.operator === '!=='))
        this.#noteEqual(node.left, node.right, names);
    });
  }

  /** Where a part of the payload is held against what stands somewhere. */
  #noteEqual(left: Expr, right: Expr, names: Names): void {
    const [one, other] = [this.#meaning(left, names), this.#meaning(right, names)];
    if (one === undefined || other === undefined) return;
    if ('part' in one && 'trail' in other) this.#note({ ...other.trail, equals: one.part });
    if ('trail' in one && 'part' in other) this.#note({ ...one.trail, equals: other.part });
  }

  #followMethod(node: Expr & { kind: 'method' }, names: Names): void {
    const { object, args, name } = node;
    const meant = this.#meaning(object, names);
    if (meant === undefined || 'part' in meant) return;
    const [first] = args;
    if (first === undefined || first.kind === 'spread') return;
    if (first.kind === 'arrow') {
      const item = into(meant.trail, { kind: 'any' });
      const [param = ''] = first.params;
      const picked = this.#pickedBy(meant.trail, param, first.body, names);
      this.#note(picked);
      this.follow(first.body, new Map([...names, [param, { trail: picked ?? item }]]));
    } else if (name === 'includes') {
      const asked = this.#meaning(first, names);
      if (asked !== undefined && 'part' in asked)
        this.#note({ ...into(meant.trail, { kind: 'any' }), equals: asked.part });
    }
  }

  #ask(
    node: Expr & { kind: 'ask' },
    look: (value: Expr, names: Names) => void,
    names: Names,
  ): void {
    if (this.#depth >= deepest) return;
    const derived = named(storeNamed(this.application, node.store).derived, node.name);
    const given = derived.params.flatMap(({ name }, i) => {
      const arg = node.args[i];
      const meant = arg && this.#meaning(arg, names);
      return meant === undefined ? [] : [[name, meant] as const];
    });
    this.#depth++;
    look(derived.value, new Map(given));
    this.#depth--;
  }

  /** What an expression stands for, if that can be said. */
  #meaning(expr: Expr, names: Names): Meant | undefined {
    switch (expr.kind) {
      case 'local':
        return names.get(expr.name);
      case 'field':
        return { trail: this.#from(expr.store, expr.name) };
      case 'member': {
        const outer = this.#meaning(expr.object, names);
        if (outer === undefined) return undefined;
        return 'part' in outer
          ? { part: `${outer.part}/${expr.name}` }
          : { trail: into(outer.trail, { kind: 'property', name: expr.name }) };
      }
      case 'index': {
        const outer = this.#meaning(expr.object, names);
        if (outer === undefined || 'part' in outer) return undefined;
        return { trail: this.#picked(outer.trail, expr.index, undefined, names) };
      }
      case 'method':
        return this.#meaningOfMethod(expr, names);
      case 'logical':
        return expr.operator === '??' ? this.#meaning(expr.left, names) : undefined;
      case 'ask': {
        let meant: Meant | undefined;
        this.#ask(expr, (value, within) => (meant = this.#meaning(value, within)), names);
        return meant;
      }
      case 'literal':
      case 'undefined':
      case 'template':
      case 'list':
      case 'object':
      case 'derived':
      case 'task':
      case 'history':
      case 'constant':
      case 'call':
      case 'fits':
      case 'apply':
      case 'unary':
      case 'binary':
      case 'conditional':
        return undefined;
    }
  }

  #meaningOfMethod(
    { object, name, args }: Expr & { kind: 'method' },
    names: Names,
  ): Meant | undefined {
    const outer = this.#meaning(object, names);
    if (outer === undefined || 'part' in outer) return undefined;
    const [first] = args;
    if (name === 'filter' && first?.kind === 'arrow') return outer;
    if (name === 'find' && first?.kind === 'arrow') {
      const [item] = first.params;
      const picked = this.#pickedBy(outer.trail, item, first.body, names);
      return { trail: picked ?? into(outer.trail, { kind: 'any' }) };
    }
    if (name === 'at') return { trail: into(outer.trail, { kind: 'any' }) };
    return undefined;
  }

  /** The item of a list that a condition picks by a part of the payload; `undefined` if it picks none by that. */
  #pickedBy(list: Trail, item: string | undefined, test: Expr, names: Names): Trail | undefined {
    let found: Trail | undefined;
    const propertyOf = (expr: Expr) =>
      expr.kind === 'member' && expr.object.kind === 'local' && expr.object.name === item
        ? expr.name
        : undefined;
    walkExpr(test, (node) => {
      if (node.kind !== 'binary' || node.operator !== '===') return;
      for (const [one, other] of [
        [node.left, node.right],
        [node.right, node.left],
      ] as const) {
        const by = propertyOf(one);
        const meant = this.#meaning(other, names);
        if (by !== undefined && meant !== undefined && 'part' in meant)
          found ??= into(list, { kind: 'picked', part: meant.part, by });
      }
    });
    return found;
  }

  #picked(list: Trail, key: Expr, by: string | undefined, names: Names): Trail {
    const meant = this.#meaning(key, names);
    return meant !== undefined && 'part' in meant
      ? into(list, { kind: 'picked', part: meant.part, by })
      : into(list, { kind: 'any' });
  }

  #note(trail: Trail | undefined): void {
    if (trail === undefined) return;
    const last = trail.stops.findLastIndex(({ kind }) => kind === 'picked');
    if (last < 0 && trail.equals === undefined) return;
    // What stands behind the last item that is picked does not bind anything.
    const own =
      trail.equals === undefined ? { ...trail, stops: trail.stops.slice(0, last + 1) } : trail;
    this.#found.set(JSON.stringify(own), own);
  }
}

const keyOf = (segment: Path['segments'][number]): string | undefined =>
  segment.kind === 'item' ? segment.key : undefined;

const into = (trail: Trail, stop: Stop): Trail => ({ ...trail, stops: [...trail.stops, stop] });
