import {
  exprOf,
  named,
  reactionsTo,
  storeNamed,
  type Action,
  type Application,
  type Store,
} from '../model/application.js';
import type { Reach } from '../model/cover-points.js';
import { same } from '../base/same.js';
import { reasons, type Environment } from '../model/participant.js';
import { bind, evaluate, type Frame, type World } from './compile-expression.js';
import type { DerivedValues } from './derived-values.js';
import type { Judge } from './judge.js';
import { Refusal } from './refusal.js';
import { fieldOf, initialState, type State } from './state.js';
import { bindAll, performSteps, type Workspace } from './steps.js';

/** What a transaction works with. */
export interface Setting {
  readonly environment: Environment;
  readonly judge: Judge;
  readonly reach: Reach | undefined;
  readonly derived: DerivedValues;
  /** What the functions of the schema give. */
  readonly apply: World['apply'];
}

/** The working state of one transaction. */
export class Transaction {
  readonly #world: World;
  #moment: number | undefined;

  constructor(
    readonly application: Application,
    public state: State,
    readonly setting: Setting,
  ) {
    this.#world = this.#makeWorld();
  }

  /** Does an action that was sent: its payload is judged first. */
  send(store: Store, action: Action, given: unknown): void {
    const { payload: wanted, payloadDefault } = action;
    const payload = given === undefined ? payloadDefault : given;
    if (wanted !== undefined) {
      const at = this.setting.judge.misfit(payload, wanted, '/payload');
      if (at !== undefined) {
        this.#cover(`${store.name}.${action.name}.payload`, 'refused');
        throw new Refusal(reasons.misfit, at);
      }
    }
    this.#perform(store, action, payload);
  }

  /** Refuses the transaction if a field that it changed does not fit. */
  judge(before: State): void {
    if (this.state === before) return;
    for (const store of this.application.stores)
      for (const field of store.fields) {
        const now = fieldOf(this.state, store, field.name);
        if (same(now, fieldOf(before, store, field.name))) continue;
        const place = store.single ? `/${store.name}` : `/${store.name}/${field.name}`;
        const at = this.setting.judge.misfit(now, field.type, place);
        if (at !== undefined) throw new Refusal(reasons.misfit, at);
      }
  }

  #perform(store: Store, action: Action, payload: unknown): void {
    const at = `${store.name}.${action.name}`;
    let frame: Frame = { world: this.#world, locals: undefined };
    if (action.payload !== undefined) frame = bind(frame, 'payload', payload);
    for (const requirement of action.requires) {
      const value = evaluate(exprOf(requirement), frame);
      const isMet =
        requirement.kind === 'condition' ? value : value !== null && value !== undefined;
      if (!isMet) {
        this.#cover(requirement.at, 'refused');
        throw new Refusal(requirement.otherwise);
      }
      if (requirement.kind === 'value') frame = bind(frame, requirement.binding.name, value);
    }
    frame = bindAll(action.let, frame);
    performSteps(action.steps, frame, this.#workspace(store));
    for (const { store: reacting, reaction } of reactionsTo(
      this.application,
      store.name,
      action.name,
    )) {
      performSteps(reaction.steps, frame, this.#workspace(reacting));
      this.#cover(reaction.at, 'done');
    }
    this.#cover(at, 'done');
  }

  #cover(at: string, what: string): void {
    this.setting.reach?.point(at, what);
  }

  #makeWorld(): World {
    const { environment, judge, reach, derived, apply } = this.setting;
    return {
      field: (owner, field) => fieldOf(this.state, storeNamed(this.application, owner), field),
      derived: (owner, name, args) => derived.of(owner, name, args).in(this.state),
      decided: reach?.decided,
      apply,
      fits: (value, wanted) => judge.fits(value, wanted),
      newId: () => environment.newId(),
      now: () => (this.#moment ??= environment.now()),
      random: () => environment.random(),
    };
  }

  #workspace(store: Store): Workspace {
    return {
      store,
      types: this.application.types,
      cover: (at, what) => {
        this.#cover(at, what);
      },
      read: (field) => fieldOf(this.state, store, field),
      write: (field, value) => {
        const changed = store.single
          ? value
          : { ...(this.state[store.name] as State), [field]: value };
        this.state = { ...this.state, [store.name]: changed };
      },
      reset: (name) => {
        const initial = initialState(storeNamed(this.application, name));
        this.state = { ...this.state, [name]: initial };
      },
      run: (storeName, actionName, payload) => {
        const target = storeNamed(this.application, storeName);
        const action = named(target.actions, actionName);
        this.#perform(target, action, payload ?? action.payloadDefault);
      },
    };
  }
}
