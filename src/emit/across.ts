import { type AcrossActionStyle, ActionWriter, type ActionBody } from './action-writer.js';
import {
  named,
  reactionsTo,
  storeNamed,
  type Action,
  type Application,
  type Reaction,
  type Store,
} from '../model/application.js';
import type { Json } from '../base/json.js';
import type { Expr } from '../model/expressions.js';
import { allSteps, exprsOf, reachesFar, type Step } from '../model/steps.js';
import type { Type } from '../model/types.js';
import { code, data, doc, id, joined, type Code } from './code.js';
import { localsRead } from './expression-facts.js';
import { Names, pascal } from './identifiers.js';
import { Imports } from './imports.js';
import type { Project } from './project.js';
import { emittedNames } from './runtime-names.js';

/** How a style writes functions that reach across stores. */
export interface AcrossStyle {
  /** Names that such a function uses. */
  readonly taken: readonly string[];
  /** How an action is written within such a function of a store. */
  actionStyle(store: Store, imports: Imports): AcrossActionStyle;
  /** Its parameters before the payload and what the action has bound. */
  before(imports: Imports): readonly Code[];
  /** The last parameter, where it is needed. */
  after(imports: Imports): Code;
  /** What it returns, and the statements around its body. */
  result(imports: Imports): Code;
  body(statements: Code): Code;
  /** A call of such a function, from another one or from the file of a store. */
  call(name: Code, args: readonly Code[], needsAfter: boolean, isInside: boolean): Code;
  /** The statement that makes the most of what a call gives. */
  keep(call: Code): Code;
}

/** What a function that is being written needs, as it is found out. */
interface Needs {
  after: boolean;
}

interface Written {
  readonly code: Code;
  readonly needsAfter: boolean;
}

/** The actions that run others, are run by others, are reacted to, or reset whole stores: `wind.measure`. */
function actionsAcross(application: Application): ReadonlySet<string> {
  const found = new Set<string>();
  const runs = (steps: readonly Step[]) => {
    for (const step of allSteps(steps))
      if (step.kind === 'run') found.add(`${step.store}.${step.action}`);
  };
  for (const store of application.stores) {
    for (const { name, steps } of store.actions) {
      runs(steps);
      if (steps.some(reachesFar)) found.add(`${store.name}.${name}`);
    }
    for (const { to, steps } of store.reactions) {
      runs(steps);
      for (const target of to) found.add(`${target.store}.${target.action}`);
    }
  }
  return found;
}

/** The file of the functions that reach across stores: actions with all that they set off. */
export class Across {
  readonly #imports = new Imports();
  readonly #actions: ReadonlySet<string>;
  readonly #names = new Map<string, string>();
  readonly #functions = new Map<string, Written>();

  constructor(
    readonly project: Project,
    readonly style: AcrossStyle,
  ) {
    const { application } = project;
    this.#actions = actionsAcross(application);
    const taken = new Names([...style.taken, ...emittedNames(application), 'payload']);
    for (const full of this.#actions) {
      const [store = '', action = ''] = full.split('.');
      this.#names.set(full, taken.allocate(`${store}${pascal(action)}`));
    }
    for (const { name, reactions } of application.stores) {
      for (const { at, to } of reactions) {
        const cause = to.length === 1 ? pascal(to[0]?.action ?? '') : 'Any';
        this.#names.set(at, taken.allocate(`${name}On${cause}`));
      }
    }
  }

  has(store: string, action: string): boolean {
    return this.#actions.has(`${store}.${action}`);
  }

  /** What the functions of the actions of a store are called. */
  namesOf(store: Store): readonly string[] {
    return store.actions.flatMap(({ name }) => this.#names.get(`${store.name}.${name}`) ?? []);
  }

  /** A call of the function of an action, from the file of a store. */
  call(store: string, action: string, args: readonly Code[], imports: Imports): Written {
    const full = `${store}.${action}`;
    const name = imports.value('across', this.#names.get(full) ?? '');
    const { needsAfter } = this.#written(full);
    return { code: this.style.call(name, args, needsAfter, false), needsAfter };
  }

  /** Whether any call so far needs the last parameter. */
  get needsAfter(): boolean {
    return [...this.#functions.values()].some((written) => written.needsAfter);
  }

  emit(): void {
    if (this.#actions.size === 0) return;
    const functions = [...this.#names.keys()].map((full) => this.#written(full).code);
    const about = 'Actions that reach across stores, with all that they set off.';
    this.project.add('across', about, this.#imports, functions);
  }

  /** The function of an action or a reaction, written after those that it calls. */
  #written(full: string): Written {
    const known = this.#functions.get(full);
    if (known !== undefined) return known;
    const { application } = this.project;
    const [storeName = '', name = ''] = full.split('.');
    const store = storeNamed(application, storeName);
    const reaction = store.reactions.find(({ at }) => at === full);
    const written =
      reaction === undefined
        ? this.#action(store, named(store.actions, name))
        : this.#reaction(store, reaction);
    this.#functions.set(full, written);
    return written;
  }

  #inside(full: string, args: readonly Code[], needs: Needs): Code {
    const { needsAfter } = this.#written(full);
    if (needsAfter) needs.after = true;
    return this.style.call(id(this.#names.get(full) ?? ''), args, needsAfter, true);
  }

  #action(store: Store, action: Action): Written {
    const needs: Needs = { after: false };
    const caused = reactionsTo(this.project.application, store.name, action.name);
    const used = caused.flatMap(({ reaction }) => usedOf(reaction));
    const { writer, style } = this.#writer(store, action, needs, used);
    const own = writer.body();
    const reactions = caused.map(({ reaction }) => {
      const args = usedOf(reaction).map((name) => writer.local(name));
      return this.style.keep(this.#inside(reaction.at, args, needs));
    });
    const payload =
      action.payload === undefined
        ? []
        : [
            code`${id(writer.usesLocal('payload') ? 'payload' : '_payload')}: ${this.project.types.payload(store, action, this.#imports)}`,
          ];
    const full = `${store.name}.${action.name}`;
    const body = joined([own, ...reactions], '\n');
    const needsAfter = style.needsAfter || needs.after;
    return this.#function(full, action.about, payload, body, needsAfter);
  }

  #reaction(store: Store, reaction: Reaction): Written {
    const used = usedOf(reaction);
    const needs: Needs = { after: false };
    const content = { requires: [], let: [], steps: reaction.steps };
    const { writer, style } = this.#writer(store, content, needs);
    const params = used.map((name) => {
      const given = reaction.given.find((candidate) => candidate.name === name);
      const type = this.project.types.type(given?.type as Type, this.#imports);
      return code`${name === 'payload' ? writer.local(name) : writer.declare(name)}: ${type}`;
    });
    const causes = reaction.to.map((target) => `${target.store}.${target.action}`).join(', ');
    const about = `What '${store.name}' does when ${causes} is done.`;
    const body = writer.body();
    return this.#function(reaction.at, about, params, body, style.needsAfter || needs.after);
  }

  #function(
    full: string,
    about: string | undefined,
    own: readonly Code[],
    body: Code,
    needsAfter: boolean,
  ): Written {
    const { style } = this;
    const name = id(this.#names.get(full) ?? '');
    const last = needsAfter ? [style.after(this.#imports)] : [];
    const whole = style.body(body);
    const before = style
      .before(this.#imports)
      .map((param) => (isNamedIn(whole, param) ? param : code`_${param}`));
    const params = [...before, ...own, ...last];
    const result = style.result(this.#imports);
    const written = code`${doc(about)}export function ${name}(${joined(params, ', ')}): ${result} {\n${whole}\n}`;
    return { code: written, needsAfter };
  }

  #writer(store: Store, content: ActionBody, needs: Needs, used: readonly string[] = []) {
    const style = this.style.actionStyle(store, this.#imports);
    const writer = new ActionWriter(
      this.project.application,
      store,
      content,
      style,
      this.project.guards,
      this.#imports,
      {
        taken: [...emittedNames(this.project.application), ...this.#names.values()],
        used,
        run: (step, running) => this.#run(step, running, needs),
        resetStore: (other) => style.resetStore(other),
      },
    );
    return { writer, style };
  }

  #run(step: Step & { kind: 'run' }, writer: ActionWriter, needs: Needs): Code {
    const target = storeNamed(this.project.application, step.store);
    const action = named(target.actions, step.action);
    const full = `${step.store}.${step.action}`;
    const lines: Code[] = [];
    const args =
      action.payload === undefined
        ? []
        : [this.#payload(step.payload, action.payload, action.payloadDefault, full, writer, lines)];
    const call = this.#inside(full, args, needs);
    const part = code`${this.#imports.value('parts', 'asPartOf')}(${data(full)}, () => ${call})`;
    return joined([...lines, this.style.keep(part)], '\n');
  }

  /** The payload of an action that is run, judged where it might not fit. */
  #payload(
    given: Expr | undefined,
    wanted: Type,
    otherwise: Json | undefined,
    full: string,
    writer: ActionWriter,
    lines: Code[],
  ): Code {
    if (given === undefined) return data(otherwise);
    let value = writer.print(given);
    if (!isPlain(given)) {
      const held = writer.style.held(value, given.type);
      value = id(writer.names.allocate('given'));
      lines.push(code`const ${value}${writer.typeOf(given)} = ${held};`);
    }
    const name = pascal(full.replace('.', '_'));
    const guard = this.project.guards.neededFor(given, wanted, `${name}Payload`, this.#imports);
    if (guard === undefined) return value;
    const fit = this.#imports.value('transaction', 'fit');
    return code`${fit}(${value}, ${guard}, ${data(`${full}.payload`)})`;
  }
}

/** Whether the body of a function names a parameter: one that nothing names begins with an underscore. */
function isNamedIn(body: Code, param: Code): boolean {
  const [name = ''] = param.text.split(':');
  const withoutTexts = body.text.replace(/"(?:[^"\\]|\\.)*"/g, '""');
  return new RegExp(`(?<![\\w$])${name.replaceAll('$', '\\$')}(?![\\w$])`).test(withoutTexts);
}

/** A value that is written where it is used, in a function of its own. */
function isPlain(expr: Expr): boolean {
  return expr.kind === 'local' || expr.kind === 'literal' || expr.kind === 'constant';
}

/** What a reaction uses of what the action gives it. */
function usedOf({ given, steps }: Reaction): string[] {
  const used = new Set(allSteps(steps).flatMap(exprsOf).flatMap(localsRead));
  return given.map(({ name }) => name).filter((name) => used.has(name));
}
