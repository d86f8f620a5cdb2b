import { describe, expect, test } from '@jest/globals';
import { Random } from '../../src/base/random.js';
import { same } from '../../src/base/same.js';
import type { Running } from '../../src/model/participant.js';
import { participantNames, start } from '../participants.js';

const limit = 5;

const lanes = `
leeshore: 1
stores:
  lanes:
    state:
      cars: { type: integer, minimum: 0, maximum: 4, default: 0 }
      label: { type: string, maxLength: 2, default: '' }
      seen: { type: integer, default: 0 }
    history: { of: [cars, label], limit: ${limit}, together: [drag] }
    actions:
      put: { payload: integer, steps: [{ set: { cars: "payload" } }] }
      drag: { payload: integer, steps: [{ set: { cars: "payload", seen: "seen + 1" } }] }
      name: { payload: string, steps: [{ set: { label: "payload" } }] }
      look: [{ set: { seen: "seen + 1" } }]
      forget: [{ reset: history }]
`;

interface Lanes {
  readonly cars: number;
  readonly label: string;
  readonly seen: number;
}

/** What can be undone, as it would be written by hand: copies of the whole state, in two lists. */
class ByHand {
  state: Lanes = { cars: 0, label: '', seen: 0 };
  past: Lanes[] = [];
  future: Lanes[] = [];
  #lastWasDrag = false;

  do(action: string, payload: unknown): boolean {
    const { state } = this;
    const changes: Readonly<Record<string, () => Lanes>> = {
      put: () => ({ ...state, cars: payload as number }),
      drag: () => ({ ...state, cars: payload as number, seen: state.seen + 1 }),
      name: () => ({ ...state, label: payload as string }),
      look: () => ({ ...state, seen: state.seen + 1 }),
    };
    const next = changes[action]?.();
    if (next === undefined) return this.#goThrough(action);
    if (next.cars < 0 || next.cars > 4 || next.label.length > 2) return false;
    if (next.cars !== state.cars || next.label !== state.label) {
      const isDrag = action === 'drag';
      if (!isDrag || !this.#lastWasDrag) this.past.push(state);
      if (this.past.length > limit) this.past.shift();
      this.future = [];
      this.#lastWasDrag = isDrag;
    }
    this.state = next;
    return true;
  }

  #goThrough(action: string): boolean {
    this.#lastWasDrag = action === 'forget' ? false : this.#lastWasDrag;
    if (action === 'forget') [this.past, this.future] = [[], []];
    else {
      const [from, to] = action === 'undo' ? [this.past, this.future] : [this.future, this.past];
      const kept = from.pop();
      if (kept === undefined) return false;
      to.push(this.state);
      this.state = { ...kept, seen: this.state.seen };
      this.#lastWasDrag = false;
    }
    return true;
  }
}

function draw(random: Random): readonly [action: string, payload?: number | string] {
  const kind = random.below(14);
  if (kind < 3) return ['put', random.below(6) - 1];
  if (kind < 6) return ['drag', random.below(5)];
  if (kind < 8) return ['name', random.pick(['', 'a', 'b', 'abc'])];
  if (kind < 9) return ['look'];
  if (kind < 12) return ['undo'];
  return random.chance(0.9) ? ['redo'] : ['forget'];
}

function walk(running: Running, random: Random, steps: number): void {
  const byHand = new ByHand();
  for (let i = 0; i < steps; i++) {
    const [action, payload] = draw(random);
    const outcome = running.send('lanes', action, payload);
    const isDone = byHand.do(action, payload);
    const shown = [outcome?.status, running.read().lanes, running.derive?.().lanes];
    const { state, past, future } = byHand;
    const wanted = [
      isDone ? 'done' : 'refused',
      state,
      { canUndo: past.length > 0, canRedo: future.length > 0 },
    ];
    // To look costs less than to expect.
    if (!same(shown, wanted))
      expect([i, action, payload, shown]).toEqual([i, action, payload, wanted]);
  }
}

describe('undo is what it would be if it were written by hand', () => {
  test.each(participantNames)('%s, over 20,000 random steps', async (name) => {
    const { running } = await start(lanes, name);
    walk(running, new Random(7), 20_000);
  });
});
