/** Texts under keys, as a browser keeps them. */
export class TextStorage {
  readonly #texts = new Map<string, string>();

  getItem(key: string): string | null {
    return this.#texts.get(key) ?? null;
  }

  setItem(key: string, text: string): void {
    this.#texts.set(key, text);
  }

  removeItem(key: string): void {
    this.#texts.delete(key);
  }

  clear(): void {
    this.#texts.clear();
  }

  key(place: number): string | null {
    return [...this.#texts.keys()][place] ?? null;
  }

  get length(): number {
    return this.#texts.size;
  }
}
