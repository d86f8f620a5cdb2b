import type { Expr } from '../../model/expressions.js';
import type { Path, Step } from '../../model/steps.js';
import { resolve, text, type Type } from '../../model/types.js';
import { itemsOf, textOf, valueOf } from '../syntax/located.js';
import { checkLocalName } from './infer/local-names.js';
import { requireCondition } from './infer/operators.js';
import { withLocals, type Scope } from './infer/scope.js';
import { StepReading } from './step-reading.js';

/** The entries of a dictionary that a step is about. */
export interface ChosenEntries {
  readonly each: (Step & { kind: 'removeEntries' })['each'];
  readonly test: Expr;
  /** With the names of an entry's key and value. */
  readonly scope: Scope;
}

/** What is common to the steps that go over all entries of a dictionary. */
export class EntrySteps extends StepReading {
  /** What the entries of a path hold; `undefined` if it leads to no dictionary. */
  protected entryType(path: Path): Type | undefined {
    const open = resolve(path.type, this.cx.types);
    return open.kind === 'map' ? open.value : undefined;
  }

  /** The entries that 'where' picks; 'each' names the key and the value of one. */
  protected chosenEntries(value: Type): ChosenEntries | undefined {
    for (const stray of ['key', 'none']) {
      const node = valueOf(this.body, stray);
      if (node === undefined) continue;
      const rather = "One entry is changed by 'set' with its path, and taken out by 'drop'.";
      return this.wrong(`'${stray}' is for lists. ${rather}`, node.span);
    }
    const [where, each] = [valueOf(this.body, 'where'), valueOf(this.body, 'each')];
    const names = itemsOf(each).map((item) => textOf(item) ?? '');
    const [keyName, valueName] = names;
    if (where === undefined || keyName === undefined || names.length !== 2)
      return this.wrong(
        "A dictionary takes 'each' with two names, [key, value], and 'where'.",
        each?.span,
      );
    for (const [i, item] of itemsOf(each).entries())
      checkLocalName(this.cx, names[i] ?? '', this.scope, item.span, names.slice(0, i));
    const scope = withLocals(this.scope, [
      [keyName, text],
      [valueName as string, value],
    ]);
    const test = this.cx.read(where, scope);
    requireCondition(this.cx, test, "'where'");
    return { each: [keyName, valueName as string], test, scope };
  }
}
