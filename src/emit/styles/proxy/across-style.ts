import { AcrossActionStyle, type ActionWriter } from '../../action-writer.js';
import { isStructured, type Type } from '../../../model/types.js';
import type { Store } from '../../../model/application.js';
import type { Step } from '../../../model/steps.js';
import type { AcrossStyle } from '../../across.js';
import { code, id, joined, property, type Code } from '../../code.js';
import type { Imports } from '../../imports.js';
import type { Drawn } from '../../print-expression.js';
import type { Project } from '../../project.js';
import { hasLists } from '../../type-book.js';
import { writeInPlaceStep } from './in-place-steps.js';

/** Functions that reach across stores, on the drafts of all stores. */
export function proxyAcross(project: Project): AcrossStyle {
  return {
    taken: ['live', 'drafts', 'draw', 'change'],
    actionStyle: (store, imports) => new DraftsActionStyle(project, store, imports),
    before: (imports) => [code`drafts: ${imports.type('views', 'Drafts')}`],
    after: (imports) => code`draw: ${imports.type('transaction', 'Draw')}`,
    result: () => code`void`,
    body: (statements) => statements,
    call(name, args, needsAfter) {
      const last = needsAfter ? [code`draw`] : [];
      return code`${name}(${joined([code`drafts`, ...args, ...last], ', ')})`;
    },
    keep: (call) => code`${call};`,
  };
}

/** A value without drafts in it, so that it stays as it is while they change. */
export function plainly(value: Code, type: Type, project: Project, imports: Imports): Code {
  if (!isStructured(type, project.application.types)) return value;
  return code`${imports.value('draft', 'plainOf')}(${value})`;
}

class DraftsActionStyle extends AcrossActionStyle {
  readonly taken = ['drafts', 'draw', 'change'];

  constructor(
    readonly project: Project,
    store: Store,
    imports: Imports,
  ) {
    super(store, imports);
  }

  field(store: string, name: string): Code {
    return code`drafts${property(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    return this.field(store, name);
  }

  draw(name: Drawn): Code {
    this.needsAfter = true;
    return code`draw.${id(name)}()`;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeInPlaceStep(step, writer);
  }

  resetStore(store: Store): Code {
    const { application } = this.project;
    const initial = this.initial(store);
    const lines = store.fields.map(({ name, type }) => {
      const value = store.single ? initial : code`${initial}${property(name)}`;
      const draft = hasLists(type, application)
        ? code`${this.imports.value('draft', 'draftOf')}(${value})`
        : value;
      return code`${this.field(store.name, name)} = ${draft};`;
    });
    return joined(lines, '\n');
  }

  override held(value: Code, type: Type): Code {
    return plainly(value, type, this.project, this.imports);
  }
}
