import { deedsOf, exprOf, type Application, type Store } from '../../model/application.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import { allSteps, exprsOf, namesOfEach, pathsOf } from '../../model/step-kinds.js';
import type { Path, Step } from '../../model/steps.js';
import { exprsOfTask } from '../../model/tasks.js';
import { membersOf, type Type, type TypeTable } from '../../model/types.js';

/** Where the keys stand that a part of a payload is looked up among: by the JSON Pointer of the part, pointers of lists in the state. */
export type LookedUp = ReadonlyMap<string, readonly string[]>;

const known = new WeakMap<Application, Map<string, LookedUp>>();

/** Among which items of the state an action or a task, `deck.board`, looks for the parts of its payload. */
export function lookedUpBy(application: Application, name: string): LookedUp {
  let all = known.get(application);
  if (all === undefined) {
    const { stores, types } = application;
    all = new Map(stores.flatMap((store) => lookedUpIn(store, types)));
    known.set(application, all);
  }
  return all.get(name) ?? nothing;
}

const nothing: LookedUp = new Map();

function lookedUpIn(store: Store, types: TypeTable): readonly (readonly [string, LookedUp])[] {
  const found = new Map<string, LookUps>();
  for (const { at, requires, let: bindings, steps } of deedsOf(store)) {
    // `timetable.load.finish` belongs to `timetable.load`.
    const name = at.split('.').slice(0, 2).join('.');
    const own = found.get(name) ?? new LookUps(types);
    found.set(name, own);
    for (const one of requires) own.look(exprOf(one));
    for (const { value } of bindings) own.look(value);
    for (const step of allSteps(steps)) own.lookInStep(store, step);
  }
  for (const task of store.tasks)
    for (const expr of exprsOfTask(task)) found.get(`${store.name}.${task.name}`)?.look(expr);
  return [...found].map(([name, { places }]) => [name, places]);
}

class LookUps {
  readonly places = new Map<string, readonly string[]>();

  constructor(readonly types: TypeTable) {}

  lookInStep(store: Store, step: Step): void {
    for (const expr of exprsOf(step)) this.look(expr);
    for (const path of pathsOf(step)) {
      const list = pointerOf(store, path);
      for (const segment of path.segments)
        if (segment.kind === 'item') this.#add(segment.value, list);
      if ('choice' in step && step.choice.kind === 'key') this.#add(step.choice.value, list);
      if ('choice' in step && step.choice.kind === 'where')
        this.#compared(step.choice.test, namesOfEach(step)[0], path.type, list);
      if (step.kind === 'move') this.#add(step.from.value, list);
    }
  }

  /** Notes what is compared with the key of an item of a list: `vehicles.find(v => v.id === payload)`. */
  look(expr: Expr): void {
    walkExpr(expr, (node) => {
      if (node.kind !== 'method') return;
      const list = pointerOfList(node.object);
      if (list === undefined) return;
      for (const one of node.args)
        if (one.kind === 'arrow') this.#compared(one.body, one.params[0], node.object.type, list);
    });
  }

  #compared(test: Expr, item: string | undefined, type: Type, list: string): void {
    const keys = membersOf(type, this.types).map((one) =>
      one.kind === 'list' ? one.key : undefined,
    );
    const isKey = (expr: Expr) =>
      expr.kind === 'member' &&
      keys.includes(expr.name) &&
      expr.object.kind === 'local' &&
      expr.object.name === item;
    walkExpr(test, (node) => {
      if (node.kind !== 'binary' || (node.operator !== '===' && node.operator !== '!==')) return;
      if (isKey(node.left)) this.#add(node.right, list);
      if (isKey(node.right)) this.#add(node.left, list);
    });
  }

  #add(expr: Expr, list: string): void {
    const part = partOfPayload(expr);
    if (part === undefined) return;
    const lists = this.places.get(part) ?? [];
    if (!lists.includes(list)) this.places.set(part, [...lists, list]);
  }
}

/** The pointer of a part of the payload; `undefined` for any other expression. */
export function partOfPayload(expr: Expr): string | undefined {
  if (expr.kind === 'local') return expr.name === 'payload' ? '' : undefined;
  if (expr.kind !== 'member') return undefined;
  const outer = partOfPayload(expr.object);
  return outer === undefined ? undefined : `${outer}/${expr.name}`;
}

function pointerOf(store: Store, { field, segments }: Path): string {
  const names = segments.map((segment) => (segment.kind === 'property' ? segment.name : undefined));
  const first = names.indexOf(undefined);
  const own = first < 0 ? names : names.slice(0, first);
  return [store.single ? `/${store.name}` : `/${store.name}/${field}`, ...own].join('/');
}

/** The pointer of a list that stands in a field; `undefined` for what is computed. */
function pointerOfList(expr: Expr): string | undefined {
  if (expr.kind === 'field')
    return expr.name === 'value' ? `/${expr.store}` : `/${expr.store}/${expr.name}`;
  if (expr.kind !== 'member') return undefined;
  const outer = pointerOfList(expr.object);
  return outer === undefined ? undefined : `${outer}/${expr.name}`;
}
