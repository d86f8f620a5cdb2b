import type { Participant } from '../../model/participant.js';
import type { Outside } from '../playing/outside.js';
import type { StoredTexts } from '../playing/virtual-storage.js';
import {
  isAsked,
  isAttach,
  isOfStorage,
  sentBy,
  type ReopenStep,
  type ScriptStep,
  type StorageStep,
} from '../script.js';
import { allAttachLater, allReadOldTexts, allReadTexts, allSave } from './abilities.js';
import { isSpared, noteSpared } from './not-sent.js';
import type { Observed } from './observed.js';
import { isMisfit } from './outcome-match.js';

/** Says which steps can be done, and mean the same to all participants. */
export class PossibleSteps {
  /** True if lazy stores are there from the beginning: somebody has no such stores. */
  readonly isWhole: boolean;
  /** True if somebody is sent only payloads that fit. */
  readonly onlyFitting: boolean;
  readonly #participants: readonly Participant[];
  readonly #observed: Observed;
  /** True if all participants save what the schema saves. */
  readonly #canReopen: boolean;
  readonly #hasOldCode: boolean;
  /** True if a text was put into the storage and not read yet. */
  #isUnread = false;

  constructor(participants: readonly Participant[], observed: Observed) {
    this.#participants = participants;
    this.#observed = observed;
    this.isWhole = !allAttachLater(participants);
    this.onlyFitting = participants.some(isSpared('payload'));
    this.#canReopen = allSave(participants);
    this.#hasOldCode = participants.some(({ has }) => has !== undefined);
  }

  /** True if a step can be done: what it answers has been called by the first, and is not answered yet. */
  has(
    step: ScriptStep,
    outside: Outside | undefined,
    stored: () => StoredTexts | undefined,
  ): boolean {
    // Stores that save nothing would begin with their defaults.
    if (isOfStorage(step)) {
      const isPossible = this.#canReopen && this.#isMeantForAll(step, stored);
      if (isPossible) this.#isUnread = isUnreadAfter(step, this.#isUnread);
      return isPossible;
    }
    // The schema writes what has changed; old code may write the same once more, and over what was put there.
    if (this.#isUnread && isAsked(step) && this.#hasOldCode) return false;
    if (isAttach(step)) return !this.isWhole;
    // What a watcher sends is known only while others are told: too late to leave it out if it does not fit.
    if (this.onlyFitting && 'watch' in step && sentBy(step) !== undefined) return false;
    if ('pass' in step) return step.pass !== 'next' || outside?.next !== undefined;
    if ('answer' in step) {
      const call = outside?.call(step.answer);
      if (call === undefined || call.isAnswered) return false;
      return (
        'error' in step ||
        this.#takes(call.takes('result' in step ? step.result : undefined, false))
      );
    }
    if (!('value' in step)) return true;
    const call = outside?.call(step.value);
    if (call?.isMany !== true || call.isAnswered) return false;
    return this.#takes(call.takes(step.result, true));
  }

  /**
   * True if a step of the storage means the same to all. They read texts of the schema's form, or of the form that was there
   * before; and once the storage has refused what one of them has written, it does not work again if another may write it later.
   */
  #isMeantForAll(step: ReopenStep | StorageStep, stored: () => StoredTexts | undefined): boolean {
    const isWhole = !this.#hasOldCode;
    if (!('storage' in step)) return true;
    if (typeof step.storage === 'string') return isWhole || step.storage !== 'works';
    const { key, text } = step.storage;
    // Old code knows nothing of versions that came after it, and writes over them.
    if (!isWhole && this.#observed.isOfLater?.(key, text) === true) return false;
    const isOld = this.#observed.oldKeys?.includes(key) === true;
    if (!isOld) return allReadTexts(this.#participants);
    // Once the schema has kept something of its own, it does not read what was there before.
    const isKept = this.#observed.keysOfOld?.some((own) => stored()?.kept[own] !== undefined);
    return isWhole || (allReadOldTexts(this.#participants) && isKept !== true);
  }

  /** True if all take an answer, if it fits or does not; those that judge none are spared it. */
  #takes(doesFit: boolean): boolean {
    return doesFit || !noteSpared(this.#participants, 'answer');
  }

  /** True if something was refused since it does not fit, and somebody is spared that. */
  sparesMisfit(outcome: unknown): boolean {
    return isMisfit(outcome) && noteSpared(this.#participants, 'payload');
  }

  /** Notes that somebody is spared a payload from now on. */
  noteSpared(): void {
    noteSpared(this.#participants, 'payload');
  }
}

/** True if the storage holds a text that was put there and not read yet, after a step that is about the storage. */
function isUnreadAfter(step: ReopenStep | StorageStep, isUnread: boolean): boolean {
  if (!('storage' in step)) return false;
  return isUnread || typeof step.storage !== 'string';
}
