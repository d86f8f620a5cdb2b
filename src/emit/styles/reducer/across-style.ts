import { storeNamed, type Store } from '../../../model/application.js';
import type { Step } from '../../../model/steps.js';
import type { AcrossActionStyle, AcrossStyle } from '../../across.js';
import type { ActionWriter } from '../../action-writer.js';
import { code, id, joined, key, property, type Code } from '../../code.js';
import { pascal } from '../../identifiers.js';
import { writeImmutableStep, type FieldChange } from '../../immutable-steps.js';
import type { Imports } from '../../imports.js';
import type { Drawn } from '../../print-expression.js';
import type { Project } from '../../project.js';
import { constantOf } from '../../pure-reading.js';

/** Functions that reach across stores, as pure functions from the state of all to the next. */
export function reducerAcross(project: Project): AcrossStyle {
  return {
    taken: [],
    actionStyle: (store, imports) => new AppActionStyle(project, store, imports),
    before: (imports) => code`app: ${project.types.app(imports)}`,
    after: (imports) => code`tools: ${imports.type('reduce', 'Tools')}`,
    result: (imports) => project.types.app(imports),
    body: (statements) => code`let next = app;\n${statements}\nreturn next;`,
    call(name, args, needsAfter, isInside) {
      const last = needsAfter ? [code`tools`] : [];
      return code`${name}(${joined([isInside ? code`next` : code`app`, ...args, ...last], ', ')})`;
    },
    keep: (call) => code`next = ${call};`,
  };
}

class AppActionStyle implements AcrossActionStyle {
  readonly taken = ['app', 'next', 'tools'];
  needsAfter = false;

  constructor(
    readonly project: Project,
    readonly store: Store,
    readonly imports: Imports,
  ) {}

  field(store: string, name: string): Code {
    const { single } = storeNamed(this.project.application, store);
    return single ? code`next${property(store)}` : code`next${property(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    this.needsAfter = true;
    return code`tools.select${property(store)}${property(name)}(next)`;
  }

  asked(store: string, name: string, args: Code): Code {
    this.needsAfter = true;
    return code`tools.select${property(store)}${property(name)}(next, ${args})`;
  }

  constant(store: string, name: string): Code {
    return constantOf(store, name, this.imports);
  }

  draw(name: Drawn): Code {
    this.needsAfter = true;
    return code`tools.draw.${id(name)}()`;
  }

  beforeSteps(): Code {
    return code``;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeImmutableStep(step, writer, (changes) => this.#write(changes));
  }

  #write(changes: readonly FieldChange[]): Code {
    const own = key(this.store.name);
    const [only] = changes;
    if (this.store.single && only !== undefined)
      return code`next = { ...next, ${own}: ${only.value} };`;
    const parts = joined(
      changes.map(({ field, value }) => code`${key(field)}: ${value}`),
      ', ',
    );
    const all = changes.length === this.store.fields.length;
    const rest = all ? code`` : code`...next${property(this.store.name)}, `;
    return code`next = { ...next, ${own}: { ${rest}${parts} } };`;
  }

  resetStore(store: Store, imports: Imports): Code {
    const initial = imports.value('initial', `initial${pascal(store.name)}`);
    return code`next = { ...next, ${key(store.name)}: ${initial} };`;
  }

  held(value: Code): Code {
    return value;
  }

  boundName(store: string, name: string): string {
    return store === this.store.name ? name : `${store}${pascal(name)}`;
  }
}
