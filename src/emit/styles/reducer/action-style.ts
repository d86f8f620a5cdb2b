import { ActionStyle, type ActionWriter } from '../../action-writer.js';
import { storeNamed, type Action, type Store } from '../../../model/application.js';
import { allSteps, pathsOf, type Step } from '../../../model/steps.js';
import { code, id, joined, key, property, type Code } from '../../code.js';
import { Names } from '../../identifiers.js';
import { writeImmutableStep, type FieldChange } from '../../immutable-steps.js';
import type { Imports } from '../../imports.js';
import type { Drawn } from '../../print-expression.js';
import type { Project } from '../../project.js';
import { emittedNames } from '../../runtime-names.js';

/** What the state of the store is called in its reducers. */
export function variableOf(store: Store): string {
  return new Names(['action', 'app', 'tools', 'payload', 'next']).allocate(store.name);
}

/** How actions are written as functions from state to state. */
export class ReducerActionStyle extends ActionStyle {
  readonly variable: string;
  /** Whether its only step gives the next state; whether there is a step that stores at all. */
  readonly isDirect: boolean;
  readonly storesAnything: boolean;
  /** Whether the action reads the state of its store at all: one that resets everything does not. */
  readsState = false;
  /** Which of `app` and `tools` the action needs. */
  readonly uses = new Set<string>();
  readonly tools = new Set<string>();
  readonly taken: readonly string[];
  #isInSteps = false;
  #hasWritten = false;

  constructor(
    readonly project: Project,
    store: Store,
    action: Action,
    imports: Imports,
  ) {
    super(store, imports);
    this.variable = variableOf(store);
    this.taken = [
      'action',
      'app',
      'tools',
      'select',
      'draw',
      'next',
      this.variable,
      ...emittedNames(project.application),
    ];
    this.storesAnything = allSteps(action.steps).some(
      (step) => step.kind === 'reset' || pathsOf(step).length > 0,
    );
    this.isDirect = action.steps.length === 1 && storesOnce(action.steps[0]);
  }

  get #current(): Code {
    this.readsState = true;
    const isReplaced = this.#isInSteps && !this.isDirect && this.storesAnything;
    return id(isReplaced ? 'next' : this.variable);
  }

  override beforeSteps(): Code {
    this.#isInSteps = true;
    if (!this.isDirect) this.readsState = true;
    const isReplaced = !this.isDirect && this.storesAnything;
    return isReplaced ? code`let next = ${id(this.variable)};` : code``;
  }

  field(store: string, name: string): Code {
    const single = storeNamed(this.project.application, store).single;
    if (store === this.store.name)
      return single ? this.#current : code`${this.#current}${property(name)}`;
    this.uses.add('app');
    return single ? code`app${property(store)}` : code`app${property(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    return code`${this.#selector(store, name)}.within(${this.#app})`;
  }

  #selector(store: string, name: string): Code {
    this.uses.add('app').add('tools');
    this.tools.add('select');
    return code`select${property(store)}${property(name)}`;
  }

  /** The state of all stores as it is now. */
  get #app(): Code {
    const own = key(this.store.name);
    return this.#hasWritten ? code`{ ...app, ${own}: ${this.#current} }` : code`app`;
  }

  override asked(store: string, name: string, args: Code): Code {
    return code`${this.#selector(store, name)}.within(${this.#app}, ${args})`;
  }

  draw(name: Drawn): Code {
    this.uses.add('tools');
    this.tools.add('draw');
    return code`draw.${id(name)}()`;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeImmutableStep(step, writer, (changes) => this.#write(changes));
  }

  #write(changes: readonly FieldChange[]): Code {
    this.#hasWritten = true;
    const [only] = changes;
    const all = changes.length === this.store.fields.length;
    const parts = changes.map(({ field, value }) => code`${key(field)}: ${value}`);
    const next =
      this.store.single && only !== undefined
        ? only.value
        : all
          ? code`{ ${joined(parts, ', ')} }`
          : code`{ ...${this.#current}, ${joined(parts, ', ')} }`;
    return this.isDirect ? code`return ${next};` : code`next = ${next};`;
  }
}

/** Whether a step stores once, as the last thing it does. */
function storesOnce(step: Step | undefined): boolean {
  if (step === undefined || step.kind === 'when' || step.kind === 'let') return false;
  if (step.kind !== 'set') return true;
  const fields = step.entries.map(({ path }) => path.field);
  return fields.length > 0 && new Set(fields).size === fields.length;
}
