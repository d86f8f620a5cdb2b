import { TextStorage } from '../../base/text-storage.js';
import type { StorageStep } from '../script.js';

/** The storage of one participant: it outlasts its stores, and works, is full or denies everything as a script says. */
export class VirtualStorage extends TextStorage {
  #mode: 'works' | 'full' | 'denied' = 'works';

  override getItem(key: string): string | null {
    if (this.#mode === 'denied') throw new Error('the storage is denied');
    return super.getItem(key);
  }

  override setItem(key: string, text: string): void {
    if (this.#mode !== 'works') throw new Error(`the storage is ${this.#mode}`);
    super.setItem(key, text);
  }

  /** Does what a script says. */
  change(step: StorageStep['storage']): void {
    if (typeof step === 'string') this.#mode = step;
    else super.setItem(step.key, step.text);
  }

  /**
   * True if it works, and what stands under some keys as parsed JSON: the order of keys does not count. What stands under
   * keys that were there before a schema is told as `{ text }`.
   */
  under(keys: readonly string[], oldKeys: readonly string[] = []): StoredTexts {
    const read = (of: readonly string[], as: (text: string) => unknown) =>
      of.flatMap((key) => {
        const text = super.getItem(key);
        return text === null ? [] : [[key, as(text)] as const];
      });
    const older = oldKeys.filter((key) => !keys.includes(key));
    const kept = [...read(keys, parsed), ...read(older, (text) => ({ text }))];
    return { is: this.#mode, kept: Object.fromEntries(kept) };
  }
}

/** What stands in a storage; a text that is no JSON is there as `{ text }`. */
export interface StoredTexts {
  readonly is: 'works' | 'full' | 'denied';
  readonly kept: Readonly<Record<string, unknown>>;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return { text };
  }
}
