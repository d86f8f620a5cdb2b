import { isStructured, type Type } from '../../../model/types.js';
import type { Store } from '../../../model/application.js';
import type { Step } from '../../../model/steps.js';
import type { AcrossActionStyle, AcrossStyle } from '../../across.js';
import type { ActionWriter } from '../../action-writer.js';
import { code, id, joined, property, type Code } from '../../code.js';
import { pascal } from '../../identifiers.js';
import type { Imports } from '../../imports.js';
import type { Drawn } from '../../print-expression.js';
import type { Project } from '../../project.js';
import { constantOf } from '../../pure-reading.js';
import { hasLists } from '../../type-book.js';
import { writeInPlaceStep } from './in-place-steps.js';

/** Functions that reach across stores, on the drafts of all stores. */
export function proxyAcross(project: Project): AcrossStyle {
  return {
    taken: ['live', 'drafts', 'draw', 'change'],
    actionStyle: (store, imports) => new DraftsActionStyle(project, store, imports),
    before: (imports) => code`drafts: ${imports.type('views', 'Drafts')}`,
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

class DraftsActionStyle implements AcrossActionStyle {
  readonly taken = ['drafts', 'draw', 'change'];
  needsAfter = false;

  constructor(
    readonly project: Project,
    readonly store: Store,
    readonly imports: Imports,
  ) {}

  field(store: string, name: string): Code {
    return code`drafts${property(store)}${property(name)}`;
  }

  derived(store: string, name: string): Code {
    return this.field(store, name);
  }

  asked(store: string, name: string, args: Code): Code {
    return code`${this.derived(store, name)}(${args})`;
  }

  constant(store: string, name: string): Code {
    return constantOf(store, name, this.imports);
  }

  draw(name: Drawn): Code {
    this.needsAfter = true;
    return code`draw.${id(name)}()`;
  }

  beforeSteps(): Code {
    return code``;
  }

  step(step: Step, writer: ActionWriter): Code {
    return writeInPlaceStep(step, writer);
  }

  resetStore(store: Store, imports: Imports): Code {
    const { application } = this.project;
    const initial = imports.value('initial', `initial${pascal(store.name)}`);
    const lines = store.fields.map(({ name, type }) => {
      const value = store.single ? initial : code`${initial}${property(name)}`;
      const draft = hasLists(type, application)
        ? code`${imports.value('draft', 'draftOf')}(${value})`
        : value;
      return code`${this.field(store.name, name)} = ${draft};`;
    });
    return joined(lines, '\n');
  }

  held(value: Code, type: Type, imports: Imports): Code {
    if (!isStructured(type, this.project.application.types)) return value;
    return code`${imports.value('draft', 'plainOf')}(${value})`;
  }

  boundName(store: string, name: string): string {
    return store === this.store.name ? name : `${store}${pascal(name)}`;
  }
}
