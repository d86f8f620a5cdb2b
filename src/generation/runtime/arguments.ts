// What is remembered for each combination of arguments.

/** So many different arguments are remembered at least, and never more than twice as many. */
const enough = 1000;

/** What belongs to arguments, by their texts; what has not been asked for in a long time is forgotten. */
export class Remembered<T> {
  #now = new Map<string, T>();
  #before = this.#now;

  get(text: string): T | undefined {
    const found = this.#now.get(text);
    if (found !== undefined) return found;
    const before = this.#before.get(text);
    if (before !== undefined) this.set(text, before);
    return before;
  }

  set(text: string, value: T): void {
    if (this.#now.size >= enough && !this.#now.has(text)) {
      this.#before = this.#now;
      this.#now = new Map();
    }
    this.#now.set(text, value);
  }
}

/** A text that is the same for equal values. */
export function textOf(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(textOf).join()}]`;
  if (typeof value === 'string') return JSON.stringify(value);
  if (typeof value !== 'object' || value === null) return String(value);
  const parts = Object.entries(value).map(
    ([key, part]) => `${JSON.stringify(key)}:${textOf(part)}`,
  );
  return `{${parts.sort().join()}}`;
}
