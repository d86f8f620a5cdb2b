import { reasons } from '../model/participant.js';
import type { Expr } from '../model/expressions.js';
import { recordOf } from '../model/fit.js';
import type { Choice, Path, Step } from '../model/steps.js';
import { resolve, type Type } from '../model/types.js';
import { mustComeFirst, type ActionWriter } from './action-writer.js';
import { draws } from './expression-facts.js';
import { code, data, id, joined, key, property, type Code } from './code.js';
import { pascal } from './identifiers.js';
import { ImmutablePaths } from './immutable-paths.js';
import { isKnownKey, printTest } from './print-expression.js';

/** The new value of a field. */
export interface FieldChange {
  readonly field: string;
  readonly value: Code;
}

/** A step on items of a list. */
type ItemStep = Step & { kind: 'update' | 'remove' };

/** How a style that replaces the values of its fields stores them: statements. */
export type Write = (changes: readonly FieldChange[]) => Code;

/** Writes a step for a style whose fields hold values that are replaced, never changed in place. */
export function writeImmutableStep(step: Step, writer: ActionWriter, write: Write): Code {
  return new ImmutableStep(writer, write).write(step);
}

class ImmutableStep extends ImmutablePaths {
  constructor(
    writer: ActionWriter,
    readonly store: Write,
  ) {
    super(writer);
  }

  write(step: Step): Code {
    switch (step.kind) {
      case 'set':
        return this.#set(step);
      case 'add':
        return this.#change(step.to, step, (list) => this.#add(list, step));
      case 'toggle':
        return this.#change(step.in, step, (old) => this.#toggle(old, step));
      case 'move':
        return this.#change(step.in, step, (list) => this.#move(list, step));
      case 'let':
        return this.writer.bindings(step.bindings);
      case 'put':
        return this.#change(step.in, step, (old) => this.#put(old, step));
      case 'update':
        return this.#onItems(step, step.in, (list, choice) => this.#update(list, choice, step));
      case 'remove':
        return this.#onItems(step, step.from, (list, choice) => this.#remove(list, choice, step));
      case 'drop':
        return this.#drop(step);
      case 'when':
        return this.writer.branch(step);
      case 'run':
        return this.writer.run(step);
      case 'resetStores':
        return this.writer.resetStores(step);
      case 'reset':
        return this.store(step.fields.map((field) => ({ field, value: this.#initial(field) })));
    }
  }

  #initial(field: string): Code {
    const { store, imports } = this.writer;
    const initial = imports.value('initial', `initial${pascal(store.name)}`);
    return store.single ? initial : code`${initial}${property(field)}`;
  }

  #set(step: Step & { kind: 'set' }): Code {
    const { writer } = this;
    const lines: Code[] = [];
    const first = step.entries.map((entry) => mustComeFirst(entry, step, writer));
    const values = step.entries.map(({ path, value }, i) => {
      const name =
        path.segments.findLast((segment) => segment.kind === 'property')?.name ?? path.field;
      if (first[i] !== true) return writer.fitting(value, path.type, name, step.at);
      const constant = id(writer.names.allocate(`next${pascal(name)}`));
      lines.push(code`const ${constant}${writer.typeOf(value)} = ${writer.print(value)};`);
      const guard = writer.guards.neededFor(
        value,
        path.type,
        `${pascal(writer.store.name)}${pascal(name)}`,
        writer.imports,
      );
      return guard === undefined
        ? constant
        : code`${writer.imports.value('transaction', 'fit')}(${constant}, ${guard}, ${data(step.at)})`;
    });
    const paths = step.entries.map(({ path }) => this.settled(path, lines));
    const reason = step.none ?? reasons.missing;
    const change = (i: number): FieldChange => {
      const path = paths[i] as Path;
      return {
        field: path.field,
        value: this.along(path, step.at, reason, () => values[i] as Code, true),
      };
    };
    const fields = step.entries.map(({ path }) => path.field);
    // A fault may have left nothing of it.
    if (fields.length === 0) return joined(lines, '\n');
    const apart = new Set(fields).size === fields.length;
    const stored = apart
      ? [this.store(fields.map((_, i) => change(i)))]
      : fields.map((_, i) => this.store([change(i)]));
    return joined([...lines, ...stored], '\n');
  }

  /** Changes what stands at a path; `change` makes the new value of the old one. */
  #change(
    path: Path,
    step: { readonly at: string; readonly none?: string | undefined },
    change: (old: Code) => Code,
  ): Code {
    const lines: Code[] = [];
    const settled = this.settled(path, lines);
    const value = this.along(settled, step.at, step.none ?? reasons.missing, change);
    return joined([...lines, this.store([{ field: path.field, value }])], '\n');
  }

  #add(list: Code, step: Step & { kind: 'add' }): Code {
    const { writer } = this;
    const open = resolve(step.to.type, writer.types);
    const item: Type = open.kind === 'list' ? open.item : step.to.type;
    const keyed = open.kind === 'list' ? open.key : undefined;
    const place = typeof step.place === 'string' ? step.place : writer.print(step.place);
    const wanted: Type = step.many ? { kind: 'list', item } : item;
    const value = writer.fitting(step.value, wanted, `${step.to.field}Item`, step.at);
    const items = step.many ? code`...${value}` : value;
    if (keyed !== undefined && place === 'end' && !step.many) {
      const helper = writer.imports.value('changes', 'withItem');
      return code`${helper}(${list}, ${data(keyed)}, ${value}, ${data(step.at)})`;
    }
    const whole =
      place === 'end'
        ? code`[...${list}, ${items}]`
        : place === 'start'
          ? code`[${items}, ...${list}]`
          : code`${writer.imports.value('changes', 'insertAt')}(${list}, ${place}, [${items}], ${data(step.at)})`;
    return keyed === undefined ? whole : this.unique(whole, keyed, step.at);
  }

  #toggle(old: Code, step: Step & { kind: 'toggle' }): Code {
    const { writer } = this;
    if (step.value === undefined) return code`!${old}`;
    const open = resolve(step.in.type, writer.types);
    const item: Type = open.kind === 'list' ? open.item : step.in.type;
    const value = writer.print(step.value);
    const guard = writer.guards.neededFor(
      step.value,
      item,
      `${pascal(writer.store.name)}${pascal(step.in.field)}Item`,
      writer.imports,
    );
    const toggled = code`${writer.imports.value('changes', 'toggled')}(${old}, ${value})`;
    if (guard === undefined) return toggled;
    const list = code`(list) => ${writer.imports.value('values', 'isListOf')}(list, ${guard})`;
    return code`${writer.imports.value('transaction', 'fit')}(${toggled}, ${list}, ${data(step.at)})`;
  }

  #move(list: Code, step: Step & { kind: 'move' }): Code {
    const { writer } = this;
    const { key: keyName, value } = step.from;
    const helper = writer.imports.value('changes', keyName === undefined ? 'moved' : 'movedItem');
    const which = keyName === undefined ? code`` : code`${data(keyName)}, `;
    return code`${helper}(${list}, ${which}${writer.print(value)}, ${writer.print(step.to)}, ${data(step.at)})`;
  }

  #put(old: Code, step: Step & { kind: 'put' }): Code {
    const { writer } = this;
    const open = resolve(step.in.type, writer.types);
    if (step.key !== undefined && open.kind === 'map') {
      const entryKey = this.#safeKey(step.key, step.at);
      return code`{ ...${old}, [${entryKey}]: ${writer.fitting(step.value, open.value, `${step.in.field}Entry`, step.at)} }`;
    }
    if (open.kind !== 'list' || open.key === undefined) throw new Error('put needs a keyed list');
    const wanted: Type = step.many ? { kind: 'list', item: open.item } : open.item;
    const value = writer.fitting(step.value, wanted, `${step.in.field}Item`, step.at);
    const helper = writer.imports.value('changes', step.many ? 'putItems' : 'putItem');
    return code`${helper}(${old}, ${data(open.key)}, ${value})`;
  }

  /** The key of a dictionary's entry, judged unless it is known to be none of those that cannot be. */
  #safeKey(expr: Expr, at: string): Code {
    const printed = this.writer.print(expr);
    if (isKnownKey(expr.type, this.writer.types)) return printed;
    const { imports } = this.writer;
    return code`${imports.value('transaction', 'fit')}(${printed}, ${imports.value('values', 'isEntryKey')}, ${data(at)})`;
  }

  #each(step: ItemStep): string {
    return step.choice.kind === 'where' || step.each !== 'it'
      ? this.writer.local(step.each).text
      : 'item';
  }

  /** A step on the items of a list that a key or a condition picks. */
  #onItems(step: ItemStep, path: Path, change: (list: Code, choice: Choice) => Code): Code {
    const lines: Code[] = [];
    const settled = this.settled(path, lines);
    const choice = this.#settledChoice(step.choice, lines);
    const value = this.along(settled, step.at, step.none ?? reasons.missing, (list) =>
      change(list, choice),
    );
    return joined([...lines, this.store([{ field: path.field, value }])], '\n');
  }

  /** A list in which some item is meant, or the action is refused. */
  #required(list: Code, isMeant: Code, step: ItemStep): Code {
    if (step.none === undefined) return list;
    const helper = this.writer.imports.value('changes', 'requireItem');
    return code`${helper}(${list}, ${isMeant}, ${data(step.none)}, ${data(step.at)})`;
  }

  /** What becomes of a step that finds no item: the reason and the place for which it is refused, if it is. */
  #otherwise(step: ItemStep): Code {
    return step.none === undefined ? code`` : code`, ${data(step.none)}, ${data(step.at)}`;
  }

  #remove(list: Code, choice: Choice, step: ItemStep): Code {
    const { writer } = this;
    if (choice.kind === 'key') {
      const helper = writer.imports.value('changes', 'withoutItem');
      return code`${helper}(${list}, ${data(choice.key)}, ${writer.print(choice.value)}${this.#otherwise(step)})`;
    }
    this.#each(step);
    const { test } = choice;
    const isMeant = writer.test(step.each, test, writer.print(test));
    const isOther = writer.test(step.each, test, writer.negated(test));
    return code`${this.#required(list, isMeant, step)}.filter(${isOther})`;
  }

  #settledChoice(choice: Choice, lines: Code[]): Choice {
    if (choice.kind === 'where') return choice;
    return { ...choice, value: this.writer.once(choice.value, 'wanted', lines) };
  }

  #update(list: Code, choice: Choice, step: Step & { kind: 'update' }): Code {
    const { writer } = this;
    const each = id(this.#each(step));
    const late = step.changes.some(({ value }) => draws(value));
    const open = resolve(step.in.type, writer.types);
    const item: Type = open.kind === 'list' ? open.item : step.in.type;
    const parts = step.changes.map((change) => {
      if (change.kind === 'spread')
        return code`...${this.#spread(change.value, item, late, step.at)}`;
      const value = late
        ? writer.print(change.value)
        : writer.fitting(change.value, change.type, change.name, step.at);
      return code`${key(change.name)}: ${value}`;
    });
    const next = code`{ ...${each}, ${joined(parts, ', ')} }`;
    const changed =
      choice.kind === 'key'
        ? code`${writer.imports.value('changes', 'changeItem')}(${list}, ${data(choice.key)}, ${writer.print(choice.value)}, (${each}) => (${next})${this.#otherwise(step)})`
        : this.#updatedWhere(list, choice.test, next, step);
    const judged = late ? this.#judgedItems(changed, item, step) : changed;
    const keyed = open.kind === 'list' ? open.key : undefined;
    const touchesKey = step.changes.some(
      (change) => change.kind === 'spread' || change.name === keyed,
    );
    return keyed !== undefined && touchesKey ? this.unique(judged, keyed, step.at) : judged;
  }

  #updatedWhere(list: Code, test: Expr, next: Code, step: ItemStep): Code {
    const { writer } = this;
    const each = id(this.#each(step));
    const isMeant = writer.test(step.each, test, writer.print(test));
    const required = this.#required(list, isMeant, step);
    return code`${required}.map((${each}) => (${printTest(test, writer)} ? ${next} : ${each}))`;
  }

  #spread(value: Expr, item: Type, late: boolean, at: string): Code {
    const record = recordOf(item, this.writer.types);
    if (late || record === undefined) return this.writer.print(value);
    const partial: Type = {
      kind: 'record',
      fields: record.fields.map((field) => ({ ...field, optional: true })),
    };
    return this.writer.fitting(value, partial, 'changes', at);
  }

  /** The whole list judged: for changes that ask the environment, which must all be computed first. */
  #judgedItems(list: Code, item: Type, step: Step): Code {
    const { writer } = this;
    if (writer.guards.checks === 'never') return list;
    const guard = writer.guards.use(
      { kind: 'list', item },
      `${pascal(writer.store.name)}Items`,
      writer.imports,
    );
    return code`${writer.imports.value('transaction', 'fit')}(${list}, ${guard}, ${data(step.at)})`;
  }

  #drop(step: Step & { kind: 'drop' }): Code {
    const { writer } = this;
    const lines: Code[] = [];
    const settled = this.settled(step.from, lines);
    const dropped =
      typeof step.key === 'string'
        ? data(step.key)
        : writer.print(writer.once(step.key, 'dropped', lines));
    const helper = writer.imports.value(
      'changes',
      typeof step.key === 'string' ? 'dropProperty' : 'dropEntry',
    );
    const reason = step.none === undefined ? code`` : code`, ${data(step.none)}, ${data(step.at)}`;
    const none = step.none ?? reasons.missing;
    const value = this.along(
      settled,
      step.at,
      none,
      (old) => code`${helper}(${old}, ${dropped}${reason})`,
    );
    return joined([...lines, this.store([{ field: step.from.field, value }])], '\n');
  }
}
