import { AcrossActionStyle, type ActionWriter } from './action-writer.js';
import { hasParameters, type Application, type Store } from '../model/application.js';
import type { Step } from '../model/steps.js';
import type { AcrossStyle } from './across.js';
import { code, id, joined, property, type Code } from './code.js';
import { writeImmutableStep, type FieldChange } from './immutable-steps.js';
import type { Imports } from './imports.js';
import type { Drawn } from './print-expression.js';
import type { Project } from './project.js';
import type { UnitStyle } from './unit-style.js';

/** Functions that reach across stores, on the units of all stores within one transaction. */
export function unitAcross(project: Project, style: UnitStyle): AcrossStyle {
  const transaction = id(style.transaction);
  return {
    taken: [style.owner, style.transaction, 'stores'],
    actionStyle: (store, imports) =>
      new UnitsActionStyle(project.application, style, store, imports),
    before: (imports) => [
      code`${transaction}: ${imports.type('runtime', style.transactionType)}`,
      code`stores: ${imports.type('stores', 'Stores')}`,
    ],
    after: () => code``,
    result: () => code`void`,
    body: (statements) => statements,
    call(name, args, _needsAfter, isInside) {
      const stores = isInside ? code`stores` : code`app()`;
      return code`${name}(${joined([transaction, stores, ...args], ', ')})`;
    },
    keep: (call) => code`${call};`,
  };
}

class UnitsActionStyle extends AcrossActionStyle {
  readonly taken: readonly string[];

  constructor(
    readonly application: Application,
    readonly style: UnitStyle,
    store: Store,
    imports: Imports,
  ) {
    super(store, imports);
    this.taken = [style.transaction, 'stores'];
  }

  #unit(store: string, name: string): Code {
    const answers = hasParameters(this.application, store, name) ? code`.answers` : code``;
    return code`stores${property(store)}${property(name)}${answers}`;
  }

  field(store: string, name: string): Code {
    return code`${id(this.style.transaction)}.${id(this.style.read)}(${this.#unit(store, name)})`;
  }

  derived(store: string, name: string): Code {
    return this.field(store, name);
  }

  draw(name: Drawn): Code {
    return code`${id(this.style.transaction)}.${id(name)}()`;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeImmutableStep(step, writer, (changes) => this.#write(this.store, changes));
  }

  #write(store: Store, changes: readonly FieldChange[]): Code {
    const { transaction, write } = this.style;
    const lines = changes.map(
      ({ field, value }) =>
        code`${id(transaction)}.${id(write)}(${this.#unit(store.name, field)}, ${value});`,
    );
    return joined(lines, '\n');
  }

  resetStore(store: Store): Code {
    const initial = this.initial(store);
    const changes = store.fields.map(({ name }) => ({
      field: name,
      value: store.single ? initial : code`${initial}${property(name)}`,
    }));
    return this.#write(store, changes);
  }

  override boundName(store: string, name: string): string {
    return `${super.boundName(store, name)}Now`;
  }
}
