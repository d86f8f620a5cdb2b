import type { Expr } from '../../model/expressions.js';
import { reasons } from '../../model/participant.js';
import type { ItemChange, Path, Segment, Step } from '../../model/steps.js';
import { resolve, type Type } from '../../model/types.js';
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
} from '../build/code.js';
import { namesUsed } from '../build/print.js';
import type { ActionBody } from './action-body.js';
import { draws, localsRead, readsFields } from './expression-facts.js';
import {
  arrowUsing,
  isKnownKey,
  printArrow,
  printTest,
  wholeNames,
  type Reading,
} from './print-expression.js';

/** The new value of a field, written when those before it are. */
export interface FieldChange {
  readonly field: string;
  readonly value: () => Code;
  /** True if it is put back to what it was at the start. */
  readonly isReset?: boolean;
}

/** What a step makes of the fields of its store, after some statements. */
export interface Changes {
  readonly before: readonly Code[];
  readonly fields: readonly FieldChange[];
}

/** Steps that change the own store by values. */
export type ValueStep = Exclude<
  Step,
  { kind: 'when' | 'let' | 'run' | 'resetStores' | 'start' | 'cancel' | 'history' }
>;

type ItemStep = Step & { kind: 'update' | 'remove' };

/** True if a step changes fields of its own store, and does nothing else. */
export function isValueStep(step: Step): step is ValueStep {
  const others = ['when', 'let', 'run', 'resetStores', 'start', 'cancel', 'history'];
  return !others.includes(step.kind);
}

export interface ValueOptions {
  /** The constant of what the store is at the start. */
  readonly initial?: () => Name;
  /** True if fields are stored one after the other, not all at once. */
  readonly isSequential?: boolean;
}

/** Writes what a step makes of the fields of its store, whose values are replaced, never changed in place. */
export class ValueSteps {
  /** `old`: how the present value of a field is written. */
  constructor(
    readonly body: ActionBody,
    readonly old: (field: string) => Code,
    readonly options: ValueOptions,
  ) {}

  changes(step: ValueStep): Changes {
    const before: Code[] = [];
    return { fields: this.#fields(step, before), before };
  }

  #fields(step: ValueStep, before: Code[]): readonly FieldChange[] {
    switch (step.kind) {
      case 'set':
        return this.#set(step, before);
      case 'add':
        return [this.#at(step.to, step, before, (list) => this.#add(list, step))];
      case 'toggle':
        return [this.#at(step.in, step, before, (old) => this.#toggle(old, step))];
      case 'move':
        return [this.#at(step.in, step, before, (list) => this.#move(list, step))];
      case 'put':
        return [this.#at(step.in, step, before, (old) => this.#put(old, step))];
      case 'update':
        return [this.#at(step.in, step, before, (list) => this.#update(list, step))];
      case 'remove':
        return [this.#at(step.from, step, before, (list) => this.#remove(list, step))];
      case 'updateEntries':
        return [this.#at(step.in, step, before, (map) => this.#updateEntries(map, step))];
      case 'removeEntries':
        return [
          this.#at(step.from, step, before, (map) => {
            const isMeant = printArrow(step.each, step.test, this.body.reading);
            return code`${this.#helper('withoutEntries')}(${map}, ${isMeant})`;
          }),
        ];
      case 'drop':
        return [this.#at(step.from, step, before, (old) => this.#drop(old, step))];
      case 'reset':
        return step.fields.map((field) => ({
          field,
          value: () => this.#initialOf(field),
          isReset: true,
        }));
    }
  }

  /** The constant of what the store is at the start. */
  initial(): Name {
    return this.options.initial?.() ?? new Name('initial');
  }

  #initialOf(field: string): Code {
    const initial = this.initial();
    return this.body.store.single ? named(initial) : code`${initial}${property(field)}`;
  }

  #helper(name: string): Name {
    return this.body.module.value('runtime/lists', name);
  }

  #set(step: Step & { kind: 'set' }, before: Code[]): readonly FieldChange[] {
    const { body } = this;
    const anyDraws = step.entries.some(({ value }) => draws(value));
    const anyItems = step.entries.some(({ path }) => leadsToItem(path));
    const fields = step.entries.map(({ path }) => path.field);
    const isTwice = new Set(fields).size < fields.length;
    const values = step.entries.map(({ path, value }) => {
      const others = fields.filter((field) => field !== path.field);
      const isLate =
        this.options.isSequential === true && readsFields(value, body.store.name, others);
      const isEarly = (anyDraws && anyItems) || isTwice || leadsToItem(path) || isLate;
      return isEarly ? body.once(value, nameOf(path), before) : body.print(value);
    });
    return step.entries.map(({ path }, i) =>
      this.#at(path, step, before, () => values[i] ?? nothing, true),
    );
  }

  /** Changes what stands at a path; `change` makes the new value of the old one. */
  #at(
    path: Path,
    step: ValueStep,
    before: Code[],
    change: (old: Code) => Code,
    replaces = false,
  ): FieldChange {
    const { body } = this;
    const segments = path.segments.map((segment) => ({
      segment,
      place:
        segment.kind === 'property'
          ? nothing
          : draws(segment.value)
            ? body.once(segment.value, `${path.field}Key`, before)
            : body.print(segment.value),
    }));
    const field = body.store.fields.find(({ name }) => name === path.field);
    const type = field?.type ?? path.type;
    const value = () =>
      this.#along(
        () => this.old(path.field),
        type,
        segments,
        ('none' in step ? step.none : undefined) ?? reasons.missing,
        change,
        replaces,
      );
    return { field: path.field, value };
  }

  #along(
    old: () => Code,
    type: Type,
    segments: readonly { readonly segment: Segment; readonly place: Code }[],
    none: string,
    change: (old: Code) => Code,
    replaces: boolean,
  ): Code {
    const [first, ...rest] = segments;
    if (first === undefined) return replaces ? change(nothing) : change(old());
    const { segment, place } = first;
    const { types } = this.body.application;
    const open = resolve(type, types);
    const go = (inner: () => Code, below: Type) =>
      this.#along(inner, below, rest, none, change, replaces);
    if (segment.kind === 'property') {
      const own =
        open.kind === 'record' ? open.fields.find(({ name }) => name === segment.name) : undefined;
      const whole = old();
      const inner = go(() => code`${whole}${property(segment.name)}`, own?.type ?? type);
      return object([code`...${whole}`, entry(segment.name, inner)]);
    }
    const below = open.kind === 'list' ? open.item : open.kind === 'map' ? open.value : type;
    const part = new Name(segment.kind === 'entry' ? 'entry' : 'item');
    const inner = go(() => named(part), below);
    const change1 = arrow(namesUsed(inner).has(part) ? [part] : [], inner);
    const reason = this.#reason(none);
    if (segment.kind === 'item')
      return code`${this.#helper('withItem')}(${old()}, ${data(segment.key)}, ${place}, ${change1}, ${reason})`;
    const helper = this.#helper(segment.kind === 'entry' ? 'withEntry' : 'withItemAt');
    const otherwise = none === reasons.missing ? nothing : reason;
    return code`${helper}(${joined([old(), place, change1, otherwise], ', ')})`;
  }

  #reason(none: string): Code {
    return none === reasons.missing
      ? named(this.body.module.value('runtime/transaction', 'missing'))
      : data(none);
  }

  /** The reason for which a step is refused that finds nothing, as a last argument; nothing if it is not refused. */
  #otherwise({ none }: { readonly none?: string | undefined }): Code {
    return none === undefined ? nothing : this.#reason(none);
  }

  #add(list: Code, step: Step & { kind: 'add' }): Code {
    const { body } = this;
    const place = typeof step.place === 'string' ? undefined : body.print(step.place);
    const value = body.print(step.value);
    const items = step.many ? code`...${value}` : value;
    if (place !== undefined)
      return code`${this.#helper('insertAt')}(${list}, ${place}, ${step.many ? value : code`[${value}]`})`;
    return step.place === 'end' ? code`[...${list}, ${items}]` : code`[${items}, ...${list}]`;
  }

  #toggle(old: Code, step: Step & { kind: 'toggle' }): Code {
    if (step.value === undefined) return code`!${old}`;
    return code`${this.#helper('toggled')}(${old}, ${this.body.print(step.value)})`;
  }

  #move(list: Code, step: Step & { kind: 'move' }): Code {
    const { body } = this;
    const { key: by, value } = step.from;
    const helper = this.#helper(by === undefined ? 'moveAt' : 'moveItem');
    const which = by === undefined ? nothing : data(by);
    return code`${helper}(${joined([list, which, body.print(value), body.print(step.to)], ', ')})`;
  }

  #put(old: Code, step: Step & { kind: 'put' }): Code {
    const { body } = this;
    const open = resolve(step.in.type, body.application.types);
    const value = body.print(step.value);
    if (step.key !== undefined) {
      const printed = body.print(step.key);
      const place = isKnownKey(step.key.type, body.application.types)
        ? printed
        : code`${this.#helper('entryKey')}(${printed})`;
      return object([code`...${old}`, code`[${place}]: ${value}`]);
    }
    if (open.kind !== 'list' || open.key === undefined) throw new Error('put needs a keyed list');
    const helper = this.#helper(step.many ? 'putItems' : 'putItem');
    return code`${helper}(${old}, ${data(open.key)}, ${value})`;
  }

  #update(list: Code, step: Step & { kind: 'update' }): Code {
    const { body } = this;
    const each = new Name(step.choice.kind === 'where' || step.each !== 'it' ? step.each : 'item');
    const reading = body.readingOf(step.each, each);
    const next = object(this.#changed(step, named(each), reading));
    const otherwise = this.#otherwise(step);
    if (step.choice.kind === 'key') {
      const { key, value } = step.choice;
      const args = [list, data(key), body.print(value), arrow([each], next), otherwise];
      return code`${this.#helper('withItem')}(${joined(args, ', ')})`;
    }
    if (step.none !== undefined) {
      const isMeant = this.#test(step, step.choice.test);
      return code`${this.#helper('withItems')}(${joined([list, isMeant, arrow([each], next), otherwise], ', ')})`;
    }
    return code`${list}.map(${arrow([each], code`${printTest(step.choice.test, reading)} ? ${next} : ${each}`)})`;
  }

  #test(step: ItemStep, test: Expr): Code {
    return printArrow([step.each], test, this.body.reading);
  }

  #remove(list: Code, step: Step & { kind: 'remove' }): Code {
    const { body } = this;
    const { choice } = step;
    if (choice.kind === 'key') {
      const args = [list, data(choice.key), body.print(choice.value), this.#otherwise(step)];
      return code`${this.#helper('withoutItem')}(${joined(args, ', ')})`;
    }
    if (step.none !== undefined)
      return code`${this.#helper('withoutItems')}(${list}, ${this.#test(step, choice.test)}, ${this.#otherwise(step)})`;
    const isRead = localsRead(choice.test).includes(step.each);
    const each = new Name(step.each);
    const stays = body.negated(choice.test, body.readingOf(step.each, each));
    return code`${list}.filter(${arrow(isRead ? [each] : [], stays)})`;
  }

  #updateEntries(map: Code, step: Step & { kind: 'updateEntries' }): Code {
    const { reading } = this.body;
    const [, value] = step.each;
    const used = [value, ...step.changes.flatMap((change) => localsRead(change.value))];
    const next = arrowUsing(used, step.each, reading, (inner) =>
      object([code`...${inner.locals.get(value) ?? nothing}`, ...this.#parts(step.changes, inner)]),
    );
    const isMeant = printArrow(step.each, step.test, reading);
    return code`${this.#helper('withEntries')}(${map}, ${isMeant}, ${next})`;
  }

  /** The parts of an item that is changed; all of them, where no property may be absent. */
  #changed(step: Step & { kind: 'update' }, item: Code, reading: Reading): Code[] {
    const parts = this.#parts(step.changes, reading);
    const { types } = this.body.application;
    const list = resolve(step.in.type, types);
    const names = list.kind === 'list' ? wholeNames(list.item, types) : undefined;
    const isPlain = step.changes.every(({ kind }) => kind !== 'spread');
    if (names === undefined || !isPlain) return [code`...${item}`, ...parts];
    const changes = new Map(
      step.changes.flatMap((change, i) =>
        change.kind === 'spread' ? [] : [[change.name, parts[i] ?? nothing] as const],
      ),
    );
    return names.map((name) => changes.get(name) ?? entry(name, code`${item}${property(name)}`));
  }

  #parts(changes: readonly ItemChange[], reading: Reading): Code[] {
    return changes.map((change) => {
      const value = this.body.print(change.value, reading);
      return change.kind === 'spread' ? code`...${value}` : entry(change.name, value);
    });
  }

  #drop(old: Code, step: Step & { kind: 'drop' }): Code {
    const isProperty = typeof step.key === 'string';
    const which = typeof step.key === 'string' ? data(step.key) : this.body.print(step.key);
    const helper = this.#helper(isProperty ? 'withoutProperty' : 'withoutEntry');
    return code`${helper}(${joined([old, which, this.#otherwise(step)], ', ')})`;
  }
}

export function leadsToItem({ segments }: Path): boolean {
  return segments.some(({ kind }) => kind !== 'property');
}

/** What a value is called that is stored at a path. */
export function nameOf(path: Path): string {
  return path.segments.findLast((segment) => segment.kind === 'property')?.name ?? path.field;
}
