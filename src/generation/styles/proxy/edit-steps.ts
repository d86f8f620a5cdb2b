import type { Expr } from '../../../model/expressions.js';
import { reasons } from '../../../model/participant.js';
import type { ItemChange, Path, Segment, Step } from '../../../model/steps.js';
import { resolve, type Type } from '../../../model/types.js';
import {
  arrow,
  code,
  data,
  entry,
  joined,
  Name,
  named,
  nothing,
  object,
  property,
  type Code,
} from '../../build/code.js';
import { draws, localsRead, readsFields } from '../../shared/expression-facts.js';
import { arrowUsing, isKnownKey, printArrow, type Reading } from '../../shared/print-expression.js';
import { leadsToItem, nameOf, type ValueStep } from '../../shared/value-steps.js';
import type { ActionBody } from '../../shared/action-body.js';

type ItemStep = Step & { kind: 'update' | 'remove' };

/** The body of an action that changes working copies. */
interface EditingBody extends ActionBody {
  /** A value to be stored: lists in it may be read-only to the compiler. */
  writable(value: Code, type: Type, expr: Expr): Code;
}

/** Writes steps as statements that change working copies in place. */
export class EditSteps {
  /** Statements that come before the step. */
  #lines: Code[] = [];

  constructor(readonly body: EditingBody) {}

  write(step: ValueStep): Code {
    this.#lines = [];
    const statement = this.#statement(step);
    return joined([...this.#lines, statement], '\n');
  }

  #statement(step: ValueStep): Code {
    switch (step.kind) {
      case 'set':
        return this.#set(step);
      case 'add':
        return this.#add(step);
      case 'toggle':
        return this.#toggle(step);
      case 'move':
        return this.#move(step);
      case 'put':
        return this.#put(step);
      case 'update':
        return this.#update(step);
      case 'remove':
        return this.#remove(step);
      case 'updateEntries':
        return this.#updateEntries(step);
      case 'removeEntries': {
        const isMeant = printArrow(step.each, step.test, this.body.reading);
        return code`${this.#call('removeEntries', this.#whole(step.from), isMeant)};`;
      }
      case 'drop':
        return this.#drop(step);
      case 'reset':
        return joined(
          step.fields.map((field) => {
            const { body } = this;
            const initial = body.store.fields.find(({ name }) => name === field)?.default;
            return code`${body.field(body.store.name, field)} = ${data(initial)};`;
          }),
          '\n',
        );
    }
  }

  #helper(name: string): Name {
    return this.body.module.value('runtime/editing', name);
  }

  #once(value: Expr, wanted: string): Code {
    return this.body.once(value, wanted, this.#lines);
  }

  /** A reason, as a last argument; nothing where it is the usual one. */
  #reason(none: string | undefined): Code {
    return none === undefined || none === reasons.missing ? nothing : data(none);
  }

  #call(helper: string, ...args: readonly Code[]): Code {
    return code`${this.#helper(helper)}(${joined(args, ', ')})`;
  }

  /** What stands at a path, to be read or changed. */
  #part(path: Path, segments: readonly Segment[], none: string | undefined): Code {
    const { body } = this;
    let here = body.field(body.store.name, path.field);
    for (const segment of segments) {
      if (segment.kind === 'property') {
        here = code`${here}${property(segment.name)}`;
        continue;
      }
      if (segment.kind === 'item') {
        const item = this.#find(here, segment.key, segment.value, `${path.field}Key`);
        here = this.#call('found', item, this.#reason(none));
        continue;
      }
      const place = draws(segment.value)
        ? this.#once(segment.value, `${path.field}Key`)
        : body.print(segment.value);
      if (segment.kind === 'entry') {
        const read = code`${body.module.value('runtime/values', 'entry')}(${here}, ${place})`;
        here = this.#call('found', read, this.#reason(none));
      } else
        here = this.#call(
          'found',
          code`${here}[${this.#call('placeIn', here, place, this.#reason(none))}]`,
          this.#reason(none),
        );
    }
    return here;
  }

  /** The item with a key, which is computed once: under a name, unless it is one already. */
  #find(list: Code, by: string, key: Expr, name: string): Code {
    const item = new Name('item');
    const wanted = this.#once(key, name);
    return code`${list}.find(${arrow([item], code`${item}${property(by)} === ${wanted}`)})`;
  }

  #whole(path: Path, none?: string): Code {
    return this.#part(path, path.segments, none);
  }

  /** What is assigned to, to store at a path. */
  #target(path: Path, none: string | undefined): Code {
    const { body } = this;
    const last = path.segments.at(-1);
    if (last === undefined) return body.field(body.store.name, path.field);
    const base = this.#part(path, path.segments.slice(0, -1), none);
    if (last.kind === 'property') return code`${base}${property(last.name)}`;
    const place = body.print(last.value);
    const by = last.kind === 'item' ? data(last.key) : nothing;
    const helper = { item: 'placeOf', entry: 'keyIn', position: 'placeIn' }[last.kind];
    return code`${base}[${this.#call(helper, base, by, place, this.#reason(none))}]`;
  }

  #set(step: Step & { kind: 'set' }): Code {
    const { body } = this;
    const fields = step.entries.map(({ path }) => path.field);
    const isTwice = new Set(fields).size < fields.length;
    const anyDraws = step.entries.some(({ value }) => draws(value));
    const anyItems = step.entries.some(({ path }) => leadsToItem(path));
    const values = step.entries.map(({ path, value }) => {
      const others = fields.filter((field) => field !== path.field);
      const isEarly =
        leadsToItem(path) ||
        isTwice ||
        (anyDraws && anyItems) ||
        readsFields(value, body.store.name, others);
      const printed = isEarly ? this.#once(value, nameOf(path)) : body.print(value);
      return body.writable(printed, path.type, value);
    });
    const targets = step.entries.map(({ path }) => this.#target(path, step.none));
    return joined(
      targets.map((target, i) => code`${target} = ${values[i] ?? nothing};`),
      '\n',
    );
  }

  #add(step: Step & { kind: 'add' }): Code {
    const { body } = this;
    const open = resolve(step.to.type, body.application.types);
    const item: Type = open.kind === 'list' ? open.item : step.to.type;
    const list = this.#whole(step.to);
    const place = typeof step.place === 'string' ? undefined : body.print(step.place);
    const printed = body.print(step.value);
    const value = step.many
      ? body.writable(printed, { kind: 'list', item }, step.value)
      : body.writable(printed, item, step.value);
    if (place !== undefined)
      return code`${this.#call('insertAt', list, place, step.many ? value : code`[${value}]`)};`;
    const method = step.place === 'end' ? 'push' : 'unshift';
    return code`${list}${property(method)}(${step.many ? code`...${value}` : value});`;
  }

  #toggle(step: Step & { kind: 'toggle' }): Code {
    if (step.value === undefined)
      return code`${this.#target(step.in, undefined)} = !${this.#whole(step.in)};`;
    return code`${this.#call('toggle', this.#whole(step.in), this.body.print(step.value))};`;
  }

  #move(step: Step & { kind: 'move' }): Code {
    const { body } = this;
    const { key: by, value } = step.from;
    const list = this.#whole(step.in);
    const [which, to] = [body.print(value), body.print(step.to)];
    return by === undefined
      ? code`${this.#call('moveAt', list, which, to)};`
      : code`${this.#call('moveItem', list, data(by), which, to)};`;
  }

  #put(step: Step & { kind: 'put' }): Code {
    const { body } = this;
    const { types } = body.application;
    const open = resolve(step.in.type, types);
    const whole = this.#whole(step.in);
    if (step.key !== undefined && open.kind === 'map') {
      const printed = body.print(step.key);
      const place = isKnownKey(step.key.type, types) ? printed : this.#call('entryKey', printed);
      const value = body.writable(body.print(step.value), open.value, step.value);
      return code`${whole}[${place}] = ${value};`;
    }
    if (open.kind !== 'list' || open.key === undefined) throw new Error('put needs a keyed list');
    const wanted: Type = step.many ? { kind: 'list', item: open.item } : open.item;
    const value = body.writable(body.print(step.value), wanted, step.value);
    return code`${this.#call(step.many ? 'putItems' : 'putItem', whole, data(open.key), value)};`;
  }

  #update(step: Step & { kind: 'update' }): Code {
    const { body } = this;
    const list = this.#whole(step.in, step.none);
    const isNamed = step.choice.kind === 'where' || step.each !== 'it';
    const each = isNamed ? new Name(step.each) : new Name('item');
    const assigned = (item: Code) => this.#assigned(step, each, item);
    if (step.choice.kind === 'key') {
      const found = this.#find(list, step.choice.key, step.choice.value, `${step.in.field}Key`);
      const readsItem = step.changes.some(({ value }) => localsRead(value).includes(step.each));
      if (step.none !== undefined && !readsItem)
        return assigned(this.#call('found', found, data(step.none)));
      body.declared.push(each);
      const held = step.none === undefined ? found : this.#call('found', found, data(step.none));
      const test = step.none === undefined ? code`if (${each} !== undefined) ` : nothing;
      return code`const ${each} = ${held};\n${test}${assigned(named(each))}`;
    }
    const isMeant = printArrow([step.each], step.choice.test, body.reading);
    const readsList = [step.choice.test, ...step.changes.map(({ value }) => value)].some((expr) =>
      readsFields(expr, body.store.name, [step.in.field]),
    );
    if (step.none === undefined && !readsList) {
      const loop = code`for (const ${each} of ${list}.filter(${isMeant})) ${assigned(named(each))}`;
      body.declared.push(each);
      return loop;
    }
    const now = object(this.#parts(step.changes, body.readingOf(step.each, each)));
    const otherwise = step.none === undefined ? nothing : data(step.none);
    return code`${this.#call('changeItems', list, isMeant, arrow([each], now), otherwise)};`;
  }

  #parts(changes: readonly ItemChange[], reading: Reading): Code[] {
    const { body } = this;
    return changes.map((change) => {
      const printed = body.print(change.value, reading);
      if (change.kind === 'spread') return code`...${printed}`;
      return entry(change.name, body.writable(printed, change.type, change.value));
    });
  }

  /** The statement that changes an item. */
  #assigned(step: Step & { kind: 'update' }, each: Name, item: Code): Code {
    const [only] = step.changes;
    if (step.changes.length === 1 && only?.kind === 'property') {
      const reading = this.body.readingOf(step.each, each);
      const value = this.body.writable(this.body.print(only.value, reading), only.type, only.value);
      return code`${item}${property(only.name)} = ${value};`;
    }
    const assign = code`${this.body.module.global('Object')}.assign`;
    return code`${assign}(${item}, ${object(this.#parts(step.changes, this.body.readingOf(step.each, each)))});`;
  }

  #remove(step: Step & { kind: 'remove' }): Code {
    const { body } = this;
    const list = this.#whole(step.from, step.none);
    const otherwise = step.none === undefined ? nothing : data(step.none);
    const { choice } = step;
    if (choice.kind === 'key')
      return code`${this.#call('removeItem', list, data(choice.key), body.print(choice.value), otherwise)};`;
    if (step.none !== undefined)
      return code`${this.#call('removeItems', list, this.#test(step, choice.test), otherwise)};`;
    const each = new Name(step.each);
    const isRead = localsRead(choice.test).includes(step.each);
    const stays = body.negated(choice.test, body.readingOf(step.each, each));
    const keepOnly = body.module.value('runtime/working-copies', 'keepOnly');
    return code`${keepOnly}(${list}, ${arrow(isRead ? [each] : [], stays)});`;
  }

  #test(step: ItemStep, test: Expr): Code {
    return printArrow([step.each], test, this.body.reading);
  }

  #updateEntries(step: Step & { kind: 'updateEntries' }): Code {
    const { reading } = this.body;
    const used = step.changes.flatMap(({ value }) => localsRead(value));
    const change = arrowUsing(used, step.each, reading, (inner) =>
      object(this.#parts(step.changes, inner)),
    );
    const isMeant = printArrow(step.each, step.test, reading);
    return code`${this.#call('changeEntries', this.#whole(step.in), isMeant, change)};`;
  }

  #drop(step: Step & { kind: 'drop' }): Code {
    const { body } = this;
    const whole = this.#whole(step.from, step.none);
    if (typeof step.key === 'string') {
      if (step.none === undefined) return code`delete ${whole}${property(step.key)};`;
      return code`${this.#call('drop', whole, data(step.key), data(step.none))};`;
    }
    const dropped = body.print(step.key);
    if (step.none === undefined) return code`delete ${whole}[${dropped}];`;
    return code`${this.#call('drop', whole, dropped, data(step.none))};`;
  }
}
