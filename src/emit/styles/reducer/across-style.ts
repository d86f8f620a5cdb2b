import { AcrossActionStyle, type ActionWriter } from '../../action-writer.js';
import { storeNamed, type Store } from '../../../model/application.js';
import type { Step } from '../../../model/steps.js';
import type { AcrossStyle } from '../../across.js';
import { code, id, joined, key, property, type Code } from '../../code.js';
import { writeImmutableStep, type FieldChange } from '../../immutable-steps.js';
import type { Imports } from '../../imports.js';
import type { Drawn } from '../../print-expression.js';
import type { Project } from '../../project.js';

/** Functions that reach across stores, as pure functions from the state of all to the next. */
export function reducerAcross(project: Project): AcrossStyle {
  return {
    taken: [],
    actionStyle: (store, imports) => new AppActionStyle(project, store, imports),
    before: (imports) => [code`app: ${project.types.app(imports)}`],
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

class AppActionStyle extends AcrossActionStyle {
  readonly taken = ['app', 'next', 'tools'];

  constructor(
    readonly project: Project,
    store: Store,
    imports: Imports,
  ) {
    super(store, imports);
  }

  field(store: string, name: string): Code {
    const { single } = storeNamed(this.project.application, store);
    return single ? code`next${property(store)}` : code`next${property(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    this.needsAfter = true;
    return code`tools.select${property(store)}${property(name)}.within(next)`;
  }

  override asked(store: string, name: string, args: Code): Code {
    this.needsAfter = true;
    return code`tools.select${property(store)}${property(name)}.within(next, ${args})`;
  }

  draw(name: Drawn): Code {
    this.needsAfter = true;
    return code`tools.draw.${id(name)}()`;
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

  resetStore(store: Store): Code {
    return code`next = { ...next, ${key(store.name)}: ${this.initial(store)} };`;
  }
}
