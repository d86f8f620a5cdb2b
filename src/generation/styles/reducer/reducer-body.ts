import type { Parameter, Store } from '../../../model/application.js';
import type { Expr } from '../../../model/expressions.js';
import type { TaskReading } from '../../../model/task-readings.js';
import {
  code,
  data,
  entry,
  joined,
  Name,
  named,
  nothing,
  object,
  property,
  scoped,
  type Code,
} from '../../build/code.js';
import type { Module } from '../../build/module.js';
import type { WrittenDeed } from '../../shared/action-body.js';
import type { Output } from '../../shared/output.js';
import { aroundTypes } from '../../shared/payloads.js';
import type { Drawn } from '../../shared/print-expression.js';
import { reachesAll, ValueBody } from '../../shared/value-body.js';

/** Writes an action as a pure function of the state and of what is around it. */
export class ReducerBody extends ValueBody {
  /** What of the surroundings is used, by name. */
  readonly #around = new Map<string, Name>();
  #forReactions: readonly string[] = [];
  #taken: readonly Parameter[] = [];

  constructor(
    output: Output,
    store: Store,
    deed: WrittenDeed,
    module: Module,
    initial: () => Name,
    alsoRead: readonly string[],
  ) {
    const base = new Name(reachesAll(deed.steps) ? 'app' : store.name);
    super(output, store, deed, module, base, initial, alsoRead);
    if (this.reads('payload')) this.locals.set('payload', named(this.#use('payload')));
  }

  #use(name: string): Name {
    const known = this.#around.get(name) ?? new Name(name);
    this.#around.set(name, known);
    return known;
  }

  /** Gives values that the action binds to its reactions. */
  giveToReactions(names: readonly string[]): void {
    this.#forReactions = names;
  }

  /** Takes values that the action has bound. */
  take(given: readonly Parameter[]): void {
    this.#taken = given;
    for (const { name } of given)
      this.locals.set(name, code`${this.#use('given')}${property(name)}`);
  }

  protected override afterBindings(): Code {
    if (this.#forReactions.length === 0) return nothing;
    const given = this.#forReactions.map((name) => entry(name, this.locals.get(name) ?? nothing));
    return code`${this.#use('bind')}(${object(given)});`;
  }

  protected override other(store: string, field: string): Code {
    const isSingle = this.application.stores.some((one) => one.name === store && one.single);
    const own = isSingle ? nothing : this.member(store, field);
    return code`${this.#use('app')}${property(store)}${own}`;
  }

  derived(store: string, name: string, args?: Code): Code {
    const states = this.isOverAll
      ? named(this.current)
      : this.isAtStart || !this.readsOwn(store, name)
        ? named(this.#use('app'))
        : object([code`...${this.#use('app')}`, entry(this.store.name, named(this.current))]);
    const given = joined([states, args ?? nothing], ', ');
    return code`${this.#use('derived')}${property(store)}${this.member(store, name)}(${given})`;
  }

  task(store: string, name: string, reading: TaskReading): Code {
    return code`${this.#use('tasks')}${property(store)}${this.member(store, name)}${property(reading)}`;
  }

  protected override delay(ms: Expr): Code {
    return code`${this.#use('delay')}(${this.print(ms)});`;
  }

  protected start(task: string, payload: Code | undefined): Code {
    return code`${this.#use('start')}(${joined([data(task), payload ?? nothing], ', ')})`;
  }

  protected historyTool(tool: string, argument: Code): Code {
    return code`${this.#use(tool)}(${argument})`;
  }

  protected cancel(state: Name, tasks: readonly string[], per: Code | undefined): Code {
    const args = joined([named(state), data(tasks), per ?? nothing], ', ');
    return code`${this.#use('cancel')}(${args})`;
  }

  draw(name: Drawn): Code {
    this.output.draws(name);
    return code`${this.#use(name)}()`;
  }

  protected run(state: Name, action: string, payload: Code | undefined): Code {
    const args = joined([named(state), data(action), payload ?? nothing], ', ');
    return code`${this.#use('run')}(${args})`;
  }

  protected resetStores(state: Name, stores: readonly string[]): Code {
    return code`${this.#use('resetStores')}(${state}, ${data(stores)})`;
  }

  /** The parameter for what is used of the surroundings: `{ payload, newId }: Around<AdmitPayload>`. */
  aroundParameter(around: string, payload: Code | undefined): Code {
    const used = [...this.#around].map(([name, own]) => entry(name, named(own)));
    if (used.length === 0) return nothing;
    const type = this.output.types.use(around, this.module);
    const read = this.#around.has('payload') ? payload : undefined;
    return code`${object(used)}: ${type}${aroundTypes(this.output, this.module, read, this.#taken)}`;
  }

  /** Makes known what the function is given and declares. */
  scope(params: readonly Name[], content: Code): Code {
    return scoped([...params, ...this.#around.values(), ...this.declared], content);
  }
}
