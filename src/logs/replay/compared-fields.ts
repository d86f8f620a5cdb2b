import type { LoggedState } from '../log/log-lines.js';
import type { Application } from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import { isObject } from '../../base/json.js';
import { stillEqual } from './still-equal.js';

/** A field that is compared; without a name, a store that is one value. */
interface ComparedField {
  readonly store: string;
  readonly field: string | undefined;
}

/** The states of one side before and after something. */
export interface States {
  readonly before: LoggedState | undefined;
  readonly after: LoggedState;
}

/** The fields that a participant has, and how they are held against those of a log. */
export class ComparedFields {
  readonly #fields: readonly ComparedField[];

  constructor({ stores }: Application, { has }: Participant) {
    const fields = stores.flatMap(({ name: store, single, fields }): ComparedField[] =>
      single ? [{ store, field: undefined }] : fields.map(({ name: field }) => ({ store, field })),
    );
    this.#fields = fields.filter(
      ({ store, field }) =>
        has?.fields.has(field === undefined ? store : `${store}.${field}`) ?? true,
    );
  }

  /** True if the fields that a log has are equal, if they were equal before. */
  areEqual(shown: States, logged: States): boolean {
    const { before: wasShown, after: isShown } = shown;
    const { before: wasLogged, after: isLogged } = logged;
    if (wasShown === isShown && wasLogged === isLogged) return true;
    return this.#fields.every((one) => {
      const { store } = one;
      // Most stores stay as they are.
      if (wasShown?.[store] === isShown[store] && wasLogged?.[store] === isLogged[store])
        return wasLogged !== undefined || !isIn(isLogged, one);
      if (!isIn(isLogged, one)) return true;
      return stillEqual(pairOf(shown, one), pairOf(logged, one));
    });
  }

  /** The part of a state that is compared with a log's. */
  partOf(state: LoggedState, logged: LoggedState): LoggedState {
    const part: Record<string, unknown> = {};
    for (const one of this.#fields) {
      if (!isIn(logged, one)) continue;
      const { store, field } = one;
      const own = state[store];
      if (field === undefined || !isObject(own)) part[store] = own;
      else if (Object.hasOwn(own, field))
        part[store] = { ...(part[store] as object | undefined), [field]: own[field] };
    }
    return part;
  }
}

const pairOf = ({ before, after }: States, one: ComparedField) => ({
  before: before && valueIn(before, one),
  after: valueIn(after, one),
});

function valueIn(state: LoggedState, { store, field }: ComparedField): unknown {
  const own = state[store];
  return field === undefined || !isObject(own) ? own : own[field];
}

/** True if a state says something of a field. A store that is not attached is null as a whole. */
function isIn(state: LoggedState, { store, field }: ComparedField): boolean {
  const own = state[store];
  if (own === undefined) return false;
  return field === undefined || !isObject(own) || Object.hasOwn(own, field);
}
