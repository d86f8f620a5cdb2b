// What actions draw from the environment: noted as they are done, and given again as they are replayed.
import type { Tools } from '../../../runtime/transaction.js';

/** What actions have asked of the environment. */
export interface Draws {
  readonly ids?: readonly string[];
  readonly now?: number;
  readonly random?: readonly number[];
}

/** Tools that note what they give, and those that give what was noted. */
export function drawing(tools: Tools) {
  let noted: { ids: string[]; now?: number; random: number[] } = { ids: [], random: [] };
  let given: Draws | undefined;
  let [ids, random] = [0, 0];
  const lacking = (what: string): never => {
    throw new RangeError(`The action was recorded without ${what}.`);
  };
  return {
    begin(draws?: Draws): void {
      noted = { ids: [], random: [] };
      given = draws;
      [ids, random] = [0, 0];
    },
    noted(): Draws | undefined {
      const { ids: own, now, random: drawn } = noted;
      if (own.length + drawn.length === 0 && now === undefined) return undefined;
      return {
        ...(own.length > 0 && { ids: own }),
        ...(now !== undefined && { now }),
        ...(drawn.length > 0 && { random: drawn }),
      };
    },
    tools: {
      newId() {
        if (given !== undefined) return given.ids?.[ids++] ?? lacking('an id');
        const id = tools.newId();
        noted.ids.push(id);
        return id;
      },
      now() {
        if (given !== undefined) return given.now ?? lacking('the time');
        return (noted.now = tools.now());
      },
      random() {
        if (given !== undefined) return given.random?.[random++] ?? lacking('a random number');
        const number = tools.random();
        noted.random.push(number);
        return number;
      },
    },
  };
}
