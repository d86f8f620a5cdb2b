import type { Abilities } from '../../model/participant.js';
import type { StoredTexts } from '../playing/virtual-storage.js';
import type { ScriptStep } from '../script.js';
import type { Observed } from './observed.js';

/**
 * What is kept by the schema's stores and by old code, as it is read after a reload: old code may write more often than the
 * schema. What has another form is compared where the schema says how it is read.
 */
export class Reloads {
  readonly #observed: Pick<Observed, 'reloaded' | 'keysOfOld'>;
  readonly #isOther: boolean;
  /** True if nobody else has changed the storage since the stores were made. */
  #isUntouched = true;

  constructor(
    observed: Pick<Observed, 'reloaded' | 'keysOfOld'>,
    { reopens, classes }: Pick<Abilities, 'reopens' | 'classes'>,
  ) {
    this.#observed = observed;
    this.#isOther = reopens && !classes.has('storage');
  }

  /** A step is done. */
  note(step: ScriptStep): void {
    if ('storage' in step) this.#isUntouched = false;
    else if ('reopen' in step) this.#isUntouched = true;
  }

  /** What is read of both; nothing where that says nothing. */
  read(
    stored: StoredTexts,
    own: StoredTexts,
  ): { readonly expected: unknown; readonly actual: unknown } | undefined {
    const { reloaded = (kept) => kept, keysOfOld = [] } = this.#observed;
    if (!this.#isUntouched || (this.#isOther && keysOfOld.length === 0)) return undefined;
    const meant = ({ kept }: StoredTexts) =>
      Object.fromEntries(
        Object.entries(reloaded(kept)).filter(([key]) => !this.#isOther || keysOfOld.includes(key)),
      );
    return { expected: meant(stored), actual: meant(own) };
  }
}
