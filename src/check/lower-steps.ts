import { nearest } from '../base/suggest.js';
import type { Span } from '../diagnostics/source.js';
import type { Expr } from '../model/expressions.js';
import type { Change, Choice, Path, Step } from '../model/steps.js';
import { recordOf } from '../model/fit.js';
import { typeText } from '../model/type-text.js';
import {
  isStructured,
  list,
  number,
  resolve,
  text,
  type RecordType,
  type Type,
} from '../model/types.js';
import { entriesOf, entryOf, itemsOf, textOf, valueOf, type Located } from '../syntax/located.js';
import { ScalarText } from '../syntax/scalar-text.js';
import type { Expressions } from './expressions.js';
import { checkLocalName, objectOf } from './infer/infer.js';
import { requireFit } from './infer/inference.js';
import { requireCondition } from './infer/operators.js';
import { afterWriting, assume, withLocals, type Scope } from './infer/scope.js';
import { lowerLet } from './lower-let.js';
import { keyTypeOf, lowerPath } from './lower-paths.js';
import { writtenFields, allSteps } from '../model/steps.js';
import { refuseLater } from './refuse-later.js';

const kinds = [
  'set',
  'append',
  'prepend',
  'insert',
  'put',
  'update',
  'remove',
  'drop',
  'toggle',
  'move',
  'when',
  'let',
  'reset',
] as const;
type Kind = (typeof kinds)[number];

/** Keys that may stand beside the step's own. */
const companions: Readonly<Record<string, readonly string[]>> = {
  when: ['then', 'else'],
  set: ['none'],
};

/** Checks a list of steps; each sees what the ones before it did. */
export function lowerSteps(
  nodes: readonly Located[],
  at: string,
  scope: Scope,
  cx: Expressions,
): Step[] {
  const steps: Step[] = [];
  let here = scope;
  for (const [i, node] of nodes.entries()) {
    const step = lowerStep(node, `${at}[${i}]`, here, cx);
    if (step === undefined) continue;
    steps.push(step);
    if (step.kind === 'let')
      here = withLocals(
        here,
        step.bindings.map(({ name, value }) => [name, value.type] as const),
      );
    here = afterWriting(here, allSteps([step]).flatMap(writtenFields));
  }
  return steps;
}

function lowerStep(node: Located, at: string, scope: Scope, cx: Expressions): Step | undefined {
  if (refuseLater('step', node, cx.problems)) return undefined;
  const kind = kindOf(node, cx);
  if (kind === undefined) return undefined;
  const base = { at, span: entryOf(node, kind)?.keySpan ?? node.span };
  const body = valueOf(node, kind) as Located;
  const lowering = new StepLowering(body, node, base, scope, cx);
  return lowering[kind]();
}

function kindOf(node: Located, cx: Expressions): Kind | undefined {
  const keys = entriesOf(node).map(({ key }) => key);
  const found = kinds.filter((kind) => keys.includes(kind));
  const [kind] = found;
  if (kind === undefined || found.length > 1) {
    const hint = `A step has one of: ${kinds.join(', ')}.`;
    const detail =
      kind === undefined
        ? 'This step does nothing.'
        : `This is ${found.length} steps in one: ${found.join(', ')}.`;
    cx.problems.add('wrong-structure', node.span, { detail, hint });
    return undefined;
  }
  const stray = entriesOf(node).find(
    ({ key }) => key !== kind && !(companions[kind] ?? []).includes(key),
  );
  if (stray === undefined) return kind;
  cx.problems.add('wrong-structure', stray.keySpan, {
    detail: `'${stray.key}' does not go with '${kind}'.`,
  });
  return undefined;
}

interface Base {
  readonly at: string;
  readonly span: Span;
}

class StepLowering {
  constructor(
    readonly body: Located,
    readonly step: Located,
    readonly base: Base,
    readonly scope: Scope,
    readonly cx: Expressions,
  ) {}

  set(): Step | undefined {
    const entries: { path: Path; value: Expr }[] = [];
    for (const { key, keySpan, value } of entriesOf(this.body)) {
      const path = this.#path(key, keySpan);
      if (path === undefined) this.cx.read(value, this.scope);
      else entries.push({ path, value: this.#fitting(value, path.type, `'${path.text}'`) });
    }
    this.#refuseOverlaps(entries.map(({ path }) => path));
    return { kind: 'set', ...this.base, entries, none: textOf(valueOf(this.step, 'none')) };
  }

  append(): Step | undefined {
    return this.#add("'append'", 'end');
  }

  prepend(): Step | undefined {
    return this.#add("'prepend'", 'start');
  }

  insert(): Step | undefined {
    const at = valueOf(this.body, 'at');
    if (at === undefined) return this.#wrong("'insert' takes 'at': the position.");
    return this.#add("'insert'", this.#fitting(at, number, 'A position'));
  }

  #add(what: string, place: 'end' | 'start' | Expr): Step | undefined {
    const target = this.#list('to');
    const [one, several] = [valueOf(this.body, 'value'), valueOf(this.body, 'values')];
    const value = one ?? several;
    if (value === undefined || (one !== undefined && several !== undefined)) {
      return this.#wrong(`${what} takes either 'value' or 'values'.`);
    }
    if (target === undefined) return void this.cx.read(value, this.scope);
    const many = one === undefined;
    const wanted = many ? list(target.item) : target.item;
    return {
      kind: 'add',
      ...this.base,
      to: target.path,
      place,
      value: this.#fitting(value, wanted, what),
      many,
    };
  }

  toggle(): Step | undefined {
    if (this.body.kind === 'scalar') {
      const path = lowerPath(this.body.text, this.scope, this.cx);
      if (path === undefined) return undefined;
      if (resolve(path.type, this.cx.types).kind === 'boolean') {
        return { kind: 'toggle', ...this.base, in: path, value: undefined };
      }
      return this.#wrong(
        `'${path.text}' is not true or false but ${typeText(path.type, this.cx.types)}.`,
        path.span,
      );
    }
    const target = this.#list('in');
    const value = valueOf(this.body, 'value');
    if (value === undefined) return this.#wrong("'toggle' of a list takes a 'value'.");
    if (target === undefined) return void this.cx.read(value, this.scope);
    if (isStructured(target.item, this.cx.types)) {
      return this.#wrong(
        `'toggle' is for lists of text or numbers, but '${target.path.text}' is ${typeText(target.path.type, this.cx.types)}.`,
      );
    }
    return {
      kind: 'toggle',
      ...this.base,
      in: target.path,
      value: this.#fitting(value, target.item, "'toggle'"),
    };
  }

  move(): Step | undefined {
    const target = this.#list('in');
    const [key, at, to] = [
      valueOf(this.body, 'key'),
      valueOf(this.body, 'at'),
      valueOf(this.body, 'to'),
    ];
    const place = key ?? at;
    if (to === undefined || place === undefined || (key !== undefined && at !== undefined)) {
      return this.#wrong("'move' takes 'to', and either 'key' or 'at'.");
    }
    if (target === undefined) return undefined;
    if (key !== undefined && target.key === undefined) {
      return this.#wrong("'key' is for keyed lists: give the list 'by', or use 'at'.");
    }
    const wanted =
      key === undefined || target.key === undefined
        ? number
        : keyTypeOf(target.item, target.key, this.cx);
    const from = {
      key: key === undefined ? undefined : target.key,
      value: this.#fitting(place, wanted, "'move'"),
    };
    return {
      kind: 'move',
      ...this.base,
      in: target.path,
      from,
      to: this.#fitting(to, number, 'A position'),
    };
  }

  let(): Step | undefined {
    const { bindings } = lowerLet(this.body, this.scope, this.cx);
    return { kind: 'let', ...this.base, bindings };
  }

  put(): Step | undefined {
    const path = this.#pathAt('in');
    const [one, several] = [valueOf(this.body, 'value'), valueOf(this.body, 'values')];
    const value = one ?? several;
    if (value === undefined || (one !== undefined && several !== undefined)) {
      return this.#wrong("'put' takes either 'value' or 'values'.");
    }
    const many = one === undefined;
    if (path === undefined) return void this.cx.read(value, this.scope);
    const open = resolve(path.type, this.cx.types);
    const key = valueOf(this.body, 'key');
    if (open.kind === 'map') {
      if (key === undefined || many)
        return this.#wrong("'put' into a dictionary takes a 'key' and a 'value'.");
      const keyExpr = this.#fitting(key, text, 'A key of a dictionary');
      const fitting = this.#fitting(value, open.value, "'put'");
      return { kind: 'put', ...this.base, in: path, key: keyExpr, value: fitting, many };
    }
    if (open.kind === 'list' && open.key !== undefined) {
      if (key !== undefined)
        return this.#wrong("'put' into a keyed list takes no 'key': the item has it.");
      const wanted = many ? list(open.item) : open.item;
      return {
        kind: 'put',
        ...this.base,
        in: path,
        key: undefined,
        value: this.#fitting(value, wanted, "'put'"),
        many,
      };
    }
    return this.#wrong(
      `'put' is for dictionaries and keyed lists, but '${path.text}' is ${typeText(path.type, this.cx.types)}.`,
    );
  }

  update(): Step | undefined {
    const target = this.#list('in');
    if (target === undefined) return undefined;
    const record = recordOf(target.item, this.cx.types);
    if (record === undefined)
      return this.#wrong("'update' changes properties: it is for lists of objects.");
    const chosen = this.#chosen(target);
    if (chosen === undefined) return undefined;
    const changes = entriesOf(valueOf(this.body, 'set')).flatMap(({ key, keySpan, value }) =>
      this.#change(key, keySpan, value, record, chosen.scope),
    );
    const { each, choice, none } = chosen;
    return { kind: 'update', ...this.base, in: target.path, each, choice, changes, none };
  }

  remove(): Step | undefined {
    const target = this.#list('from');
    const chosen = target === undefined ? undefined : this.#chosen(target);
    if (target === undefined || chosen === undefined) return undefined;
    const { each, choice, none } = chosen;
    return { kind: 'remove', ...this.base, from: target.path, each, choice, none };
  }

  drop(): Step | undefined {
    const path = this.#pathAt('from');
    if (path === undefined) return undefined;
    const open = resolve(path.type, this.cx.types);
    const key = valueOf(this.body, 'key') as Located;
    const none = textOf(valueOf(this.body, 'none'));
    if (open.kind === 'map') {
      return {
        kind: 'drop',
        ...this.base,
        from: path,
        key: this.#fitting(key, text, 'A key of a dictionary'),
        none,
      };
    }
    if (open.kind !== 'record') {
      return this.#wrong(
        `'drop' is for dictionaries and optional properties, but '${path.text}' is ${typeText(path.type, this.cx.types)}.`,
      );
    }
    const name = textOf(key) ?? '';
    const field = open.fields.find((candidate) => candidate.name === name);
    if (field?.optional === true)
      return { kind: 'drop', ...this.base, from: path, key: name, none };
    if (field !== undefined)
      return this.#wrong(`'${name}' is not optional: it cannot be dropped.`, key.span);
    const near = nearest(
      name,
      open.fields.map((candidate) => candidate.name),
    );
    this.cx.problems.add('no-such-property', key.span, {
      name,
      of: typeText(path.type, this.cx.types),
      near,
    });
    return undefined;
  }

  when(): Step | undefined {
    const test = this.cx.read(this.body, this.scope);
    requireCondition(this.cx, test, "'when'");
    const branch = (name: 'then' | 'else') => {
      const scope = assume(this.scope, test, name === 'then', this.cx.types);
      return lowerSteps(
        itemsOf(valueOf(this.step, name)),
        `${this.base.at}.${name}`,
        scope,
        this.cx,
      );
    };
    const [then, otherwise] = [branch('then'), branch('else')];
    if (valueOf(this.step, 'then') === undefined)
      return this.#wrong("'when' takes 'then': the steps to do.");
    return { kind: 'when', ...this.base, test, then, else: otherwise };
  }

  reset(): Step | undefined {
    const { fields } = this.scope.store;
    if (this.body.kind === 'map') {
      this.cx.problems.add('not-supported-yet', this.body.span, {
        what: "'reset' of several stores",
      });
      return undefined;
    }
    if (textOf(this.body) === 'all')
      return { kind: 'reset', ...this.base, fields: [...fields.keys()] };
    if (this.body.kind !== 'list') return this.#wrong("'reset' takes 'all' or a list of fields.");
    const names = this.body.items.map((item) => ({ name: textOf(item) ?? '', span: item.span }));
    for (const { name, span } of names.filter((item) => !fields.has(item.name))) {
      this.cx.problems.add('unknown-name', span, {
        name,
        near: nearest(name, fields.keys()),
        textFits: false,
      });
    }
    return {
      kind: 'reset',
      ...this.base,
      fields: names.map(({ name }) => name).filter((name) => fields.has(name)),
    };
  }

  #wrong(detail: string, span = this.base.span): undefined {
    this.cx.problems.add('wrong-structure', span, { detail });
  }

  #fitting(node: Located, wanted: Type, where: string): Expr {
    const value = this.cx.read(node, this.scope, wanted);
    requireFit(this.cx, value, wanted, where);
    return value;
  }

  #path(key: string, span: Span): Path | undefined {
    const quoted = span.source.text[span.start];
    const style = quoted === '"' ? 'double' : quoted === "'" ? 'single' : 'plain';
    return lowerPath(new ScalarText(key, style, span), this.scope, this.cx);
  }

  #pathAt(key: string): Path | undefined {
    const node = valueOf(this.body, key);
    const path = node?.kind === 'scalar' ? lowerPath(node.text, this.scope, this.cx) : undefined;
    const last = path?.segments.at(-1);
    if (path === undefined || last?.kind !== 'property' || !last.optional) return path;
    const what = `'${path.text}'`;
    this.cx.problems.add('maybe-missing', path.span, {
      what,
      missing: 'absent',
      where: `'${key}'`,
    });
    return undefined;
  }

  #list(key: string): { path: Path; item: Type; key: string | undefined } | undefined {
    const path = this.#pathAt(key);
    if (path === undefined) return undefined;
    const open = resolve(path.type, this.cx.types);
    if (open.kind === 'list') return { path, item: open.item, key: open.key };
    return this.#wrong(
      `'${path.text}' is no list but ${typeText(path.type, this.cx.types)}.`,
      path.span,
    );
  }

  /** The items that 'key' or 'where' picks, and the scope in which `each` names one. */
  #chosen(target: { item: Type; key: string | undefined }) {
    const [key, where, each] = [
      valueOf(this.body, 'key'),
      valueOf(this.body, 'where'),
      valueOf(this.body, 'each'),
    ];
    if ((key === undefined) === (where === undefined))
      return this.#wrong("Say which items: with either 'key' or 'where'.");
    const name = textOf(each) ?? 'it';
    if (each === undefined && where !== undefined)
      return this.#wrong("'where' needs 'each': the name of one item in it.");
    if (each !== undefined) checkLocalName(this.cx, name, this.scope, each.span);
    const scope = each === undefined ? this.scope : withLocals(this.scope, [[name, target.item]]);
    const none = valueOf(this.body, 'none');
    if (where !== undefined) {
      if (none !== undefined)
        return this.#wrong("'none' goes with 'key': 'where' may match nothing.", none.span);
      const test = this.cx.read(where, scope);
      requireCondition(this.cx, test, "'where'");
      return {
        each: name,
        scope,
        choice: { kind: 'where', test } satisfies Choice,
        none: undefined,
      };
    }
    if (target.key === undefined)
      return this.#wrong("'key' is for keyed lists: give the list 'by', or use 'where'.");
    const value = this.#fitting(
      key as Located,
      keyTypeOf(target.item, target.key, this.cx),
      `The key '${target.key}'`,
    );
    return {
      each: name,
      scope,
      choice: { kind: 'key', key: target.key, value } satisfies Choice,
      none: textOf(none),
    };
  }

  #change(name: string, span: Span, node: Located, record: RecordType, scope: Scope): Change[] {
    if (name === '...') return this.#spreadChange(node, record, scope);
    const field = record.fields.find((candidate) => candidate.name === name);
    if (field === undefined) {
      const near = nearest(
        name,
        record.fields.map((candidate) => candidate.name),
      );
      this.cx.problems.add('no-such-property', span, { name, of: 'The item', near });
      return [];
    }
    const value = this.cx.read(node, scope, field.type);
    requireFit(this.cx, value, field.type, `'${name}'`);
    return [{ kind: 'property', name, type: field.type, value }];
  }

  #spreadChange(node: Located, record: RecordType, scope: Scope): Change[] {
    const value = this.cx.read(node, scope);
    const spread = recordOf(value.type, this.cx.types);
    if (spread === undefined) {
      if (value.type.kind !== 'unknown') requireFit(this.cx, value, record, "'...'");
      return [];
    }
    const optional = {
      kind: 'record',
      fields: record.fields.map((field) => ({ ...field, optional: true })),
    } as const;
    requireFit(this.cx, { type: spread, span: value.span }, optional, "'...'");
    return [{ kind: 'spread', value: objectOf(this.cx, [{ kind: 'spread', value }], value.span) }];
  }

  #refuseOverlaps(paths: readonly Path[]): void {
    for (const [i, path] of paths.entries()) {
      const other = paths.slice(0, i).find((before) => overlap(before.text, path.text));
      if (other === undefined) continue;
      const related = [{ message: 'the other', span: other.span }];
      this.cx.problems.add(
        'overlapping-paths',
        path.span,
        { first: other.text, second: path.text },
        related,
      );
    }
  }
}

/** Whether one path leads through the other, or two go through lists or dictionaries of one field. */
function overlap(a: string, b: string): boolean {
  const [short, long] = a.length <= b.length ? [a, b] : [b, a];
  if (short === long) return true;
  return long.startsWith(short) && /^[.[]/.test(long.slice(short.length));
}
