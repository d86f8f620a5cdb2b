import { reasons } from '../../../model/participant.js';
import type { Expr } from '../../../model/expressions.js';
import { pathsOf, type Choice, type Step } from '../../../model/steps.js';
import { resolve, type Type } from '../../../model/types.js';
import { mustComeFirst, type ActionWriter } from '../../action-writer.js';
import { draws, readsFields } from '../../expression-facts.js';
import { code, data, id, joined, key, property, type Code } from '../../code.js';
import { pascal } from '../../identifiers.js';
import { isKnownKey } from '../../print-expression.js';
import { InPlacePaths } from './in-place-paths.js';

/** Writes a step as what changes a draft in place. */
export function writeInPlaceStep(step: Step, writer: ActionWriter): Code {
  return new InPlaceStep(writer).write(step);
}

type Items = Step & { kind: 'update' | 'remove' };

class InPlaceStep extends InPlacePaths {
  write(step: Step): Code {
    const statement = this.#statement(step);
    const judged = pathsOf(step).flatMap((path) => this.judgedLists(path, step));
    return joined([...this.lines, statement, ...judged], '\n');
  }

  #statement(step: Step): Code {
    switch (step.kind) {
      case 'set':
        return this.#set(step);
      case 'add':
        return this.#add(step);
      case 'toggle':
        return this.#toggle(step);
      case 'move':
        return this.#move(step);
      case 'let':
        return this.writer.bindings(step.bindings);
      case 'put':
        return this.#put(step);
      case 'update':
        return this.#update(step);
      case 'remove':
        return this.#remove(step);
      case 'drop':
        return this.#drop(step);
      case 'when':
        return this.writer.branch(step);
      case 'run':
        return this.writer.run(step);
      case 'resetStores':
        return this.writer.resetStores(step);
      case 'reset':
        return joined(
          step.fields.map((field) => this.#reset(field)),
          '\n',
        );
    }
  }

  #reset(field: string): Code {
    const { writer } = this;
    const { store } = writer;
    const initial = writer.imports.value('initial', `initial${pascal(store.name)}`);
    const type = store.fields.find(({ name }) => name === field)?.type;
    const value = store.single ? initial : code`${initial}${property(field)}`;
    return code`${writer.style.field(store.name, field)} = ${type === undefined ? value : this.asDraft(value, type)};`;
  }

  #set(step: Step & { kind: 'set' }): Code {
    const { writer } = this;
    const values = step.entries.map((entry) => {
      const { path, value } = entry;
      const name =
        path.segments.findLast((segment) => segment.kind === 'property')?.name ?? path.field;
      if (!mustComeFirst(entry, step, writer))
        return this.asDraft(writer.fitting(value, path.type, name, step.at), path.type);
      const constant = id(writer.names.allocate(`next${pascal(name)}`));
      const held = writer.style.held(writer.print(value), value.type);
      this.lines.push(code`const ${constant}${writer.typeOf(value)} = ${held};`);
      return this.asDraft(this.#fit(constant, value, path.type, name, step.at), path.type);
    });
    const lines = step.entries.map(({ path }, i) => {
      const settled = this.settled(path);
      const target = this.target(settled, step.none ?? reasons.missing, step.at);
      const stored = code`${target} = ${values[i] ?? code``};`;
      const unique = this.uniqueAfter(settled, step.at);
      return unique === undefined ? stored : code`${stored}\n${unique}`;
    });
    return joined(lines, '\n');
  }

  #fit(printed: Code, value: Expr, wanted: Type, suggested: string, at: string): Code {
    const { writer } = this;
    const guard = writer.guards.neededFor(
      value,
      wanted,
      `${pascal(writer.store.name)}${pascal(suggested)}`,
      writer.imports,
    );
    return guard === undefined
      ? printed
      : code`${writer.imports.value('transaction', 'fit')}(${printed}, ${guard}, ${data(at)})`;
  }

  #add(step: Step & { kind: 'add' }): Code {
    const { writer } = this;
    const open = resolve(step.to.type, writer.types);
    const item: Type = open.kind === 'list' ? open.item : step.to.type;
    const keyName = open.kind === 'list' ? open.key : undefined;
    const list = this.whole(step.to, step.at);
    const place = typeof step.place === 'string' ? step.place : writer.print(step.place);
    const wanted: Type = step.many ? { kind: 'list', item } : item;
    const value = this.asDraft(
      writer.fitting(step.value, wanted, `${step.to.field}Item`, step.at),
      wanted,
    );
    if (place === 'end' && !step.many) {
      if (keyName === undefined) return code`${list}.push(${value});`;
      return code`${this.helper('addItem')}(${list}, ${data(keyName)}, ${value}, ${data(step.at)});`;
    }
    const items = step.many ? value : code`[${value}]`;
    const start = place === 'start' ? data(0) : place;
    const added =
      start === 'end'
        ? code`${this.helper('addItems')}(${list}, ${items});`
        : code`${this.helper('insertItems')}(${list}, ${start}, ${items}, ${data(step.at)});`;
    return keyName === undefined ? added : code`${added}\n${this.unique(list, keyName, step.at)}`;
  }

  #toggle(step: Step & { kind: 'toggle' }): Code {
    const { writer } = this;
    const none = reasons.missing;
    if (step.value === undefined) {
      const settled = this.settled(step.in);
      return code`${this.target(settled, none, step.at)} = !${this.part(settled, settled.segments.length, none, step.at)};`;
    }
    const open = resolve(step.in.type, writer.types);
    const item: Type = open.kind === 'list' ? open.item : step.in.type;
    const list = this.whole(step.in, step.at);
    const value = writer.fitting(step.value, item, `${step.in.field}Item`, step.at);
    return code`${this.helper('toggleItem')}(${list}, ${value});`;
  }

  #move(step: Step & { kind: 'move' }): Code {
    const { writer } = this;
    const { key: keyName, value } = step.from;
    const list = this.whole(step.in, step.at);
    const helper = this.helper(keyName === undefined ? 'moveItem' : 'moveKeyed');
    const which = keyName === undefined ? code`` : code`${data(keyName)}, `;
    return code`${helper}(${list}, ${which}${writer.print(value)}, ${writer.print(step.to)}, ${data(step.at)});`;
  }

  #put(step: Step & { kind: 'put' }): Code {
    const { writer } = this;
    const open = resolve(step.in.type, writer.types);
    const whole = this.whole(step.in, step.at);
    if (step.key !== undefined && open.kind === 'map') {
      const printed = writer.print(step.key);
      const { imports } = writer;
      const safe = isKnownKey(step.key.type, writer.types)
        ? printed
        : code`${imports.value('transaction', 'fit')}(${printed}, ${imports.value('values', 'isEntryKey')}, ${data(step.at)})`;
      const value = writer.fitting(step.value, open.value, `${step.in.field}Entry`, step.at);
      return code`${whole}[${safe}] = ${this.asDraft(value, open.value)};`;
    }
    if (open.kind !== 'list' || open.key === undefined) throw new Error('put needs a keyed list');
    const wanted: Type = step.many ? { kind: 'list', item: open.item } : open.item;
    const value = writer.fitting(step.value, wanted, `${step.in.field}Item`, step.at);
    const helper = this.helper(step.many ? 'putItems' : 'putItem');
    return code`${helper}(${whole}, ${data(open.key)}, ${this.asDraft(value, wanted)});`;
  }

  #each(step: Items): Code {
    const named = step.choice.kind === 'where' || step.each !== 'it';
    if (!named) return id(this.writer.names.inner().allocate('item'));
    return this.writer.local(step.each);
  }

  #test(choice: Choice, step: Items, each: Code): Code {
    if (choice.kind === 'where')
      return this.writer.test(step.each, choice.test, this.writer.print(choice.test));
    return code`(${each}) => ${each}${property(choice.key)} === ${this.writer.print(choice.value)}`;
  }

  #settledChoice(choice: Choice): Choice {
    return choice.kind === 'where'
      ? choice
      : { ...choice, value: this.held(choice.value, 'wanted') };
  }

  #update(step: Step & { kind: 'update' }): Code {
    const { writer } = this;
    const list = this.whole(step.in, step.at, step.none);
    const choice = this.#settledChoice(step.choice);
    const each = this.#each(step);
    const open = resolve(step.in.type, writer.types);
    const late = step.changes.some(({ value }) => draws(value));
    const change = this.#change(step, late);
    const test = this.#test(choice, step, each);
    const keyName = open.kind === 'list' ? open.key : undefined;
    const touchesKey = step.changes.some((part) => part.kind === 'spread' || part.name === keyName);
    const after = [
      ...(late && open.kind === 'list' && writer.guards.checks !== 'never'
        ? [this.#judgeAll(list, open.item, step)]
        : []),
      ...(keyName !== undefined && touchesKey ? [this.unique(list, keyName, step.at)] : []),
    ];
    return joined([this.#changing(step, list, choice, each, test, change, late), ...after], '\n');
  }

  /** The statement that changes the chosen items. */
  #changing(
    step: Step & { kind: 'update' },
    list: Code,
    choice: Choice,
    each: Code,
    test: Code,
    change: Change,
    late: boolean,
  ): Code {
    const assigned =
      change.single === undefined
        ? code`Object.assign(${each}, ${change.object});`
        : code`${each}${change.single};`;
    if (choice.kind === 'key') {
      if (step.none !== undefined) {
        const found = code`${this.helper('itemOf')}(${list}, ${data(choice.key)}, ${this.writer.print(choice.value)}, ${data(step.none)}, ${data(step.at)})`;
        return code`{\nconst ${each} = ${found};\n${assigned}\n}`;
      }
      return code`{\nconst ${each} = ${list}.find(${test});\nif (${each} !== undefined) ${assigned}\n}`;
    }
    const { store } = this.writer;
    const readsItself = step.changes.some(({ value }) =>
      readsFields(value, store.name, [step.in.field]),
    );
    if (!late && !readsItself)
      return code`for (const ${each} of ${list}.filter(${test})) ${assigned}`;
    return code`for (const change of ${list}.filter(${test}).map((${each}) => ({ item: ${each}, now: ${change.object} }))) {\nObject.assign(change.item, change.now);\n}`;
  }

  #change(step: Step & { kind: 'update' }, late: boolean): Change {
    const { writer } = this;
    const open = resolve(step.in.type, writer.types);
    const record = open.kind === 'list' ? resolve(open.item, writer.types) : undefined;
    const fields = record?.kind === 'record' ? record.fields : [];
    const partial: Type = {
      kind: 'record',
      fields: fields.map((field) => ({ ...field, optional: true })),
    };
    const parts = step.changes.map((part) => {
      const [wanted, name] = part.kind === 'spread' ? [partial, 'changes'] : [part.type, part.name];
      const value = late
        ? writer.print(part.value)
        : writer.fitting(part.value, wanted, name, step.at);
      return { part, value: this.asDraft(value, wanted) };
    });
    const object = code`{ ${joined(
      parts.map(({ part, value }) =>
        part.kind === 'spread' ? code`...${value}` : code`${key(part.name)}: ${value}`,
      ),
      ', ',
    )} }`;
    const [only] = parts;
    const single =
      parts.length === 1 && only?.part.kind === 'property'
        ? code`${property(only.part.name)} = ${only.value}`
        : undefined;
    return { object, single };
  }

  #judgeAll(list: Code, item: Type, step: Step): Code {
    const { writer } = this;
    const guard = writer.guards.use(
      { kind: 'list', item },
      `${pascal(writer.store.name)}Items`,
      writer.imports,
    );
    return code`${writer.imports.value('transaction', 'fit')}(${list}, ${guard}, ${data(step.at)});`;
  }

  #remove(step: Step & { kind: 'remove' }): Code {
    const list = this.whole(step.from, step.at, step.none);
    const choice = this.#settledChoice(step.choice);
    const each = this.#each(step);
    const removed = code`${this.writer.imports.value('draft', 'removeItems')}(${list}, ${this.#test(choice, step, each)})`;
    if (step.none === undefined) return code`${removed};`;
    return code`if (${removed} === 0) ${this.writer.refusal(step.none, step.at)};`;
  }

  #drop(step: Step & { kind: 'drop' }): Code {
    const { writer } = this;
    const none = step.none ?? reasons.missing;
    const whole = this.whole(step.from, step.at, none);
    if (typeof step.key === 'string') {
      if (step.none === undefined) return code`delete ${whole}${property(step.key)};`;
      const missing = code`!Object.hasOwn(${whole}, ${data(step.key)})`;
      return code`if (${missing}) ${writer.refusal(step.none, step.at)};\ndelete ${whole}${property(step.key)};`;
    }
    const dropped = writer.print(this.held(step.key, 'dropped'));
    if (step.none === undefined) return code`delete ${whole}[${dropped}];`;
    return code`delete ${whole}[${this.helper('entryKey')}(${whole}, ${dropped}, ${data(step.none)}, ${data(step.at)})];`;
  }
}

interface Change {
  readonly object: Code;
  /** The assignment of the only property that changes: `.boarded = true`. */
  readonly single: Code | undefined;
}
