import { describe, expect, test } from '@jest/globals';
import type {
  NextState,
  Expansion,
  ExpandItem,
  FrontierState,
} from '../../../src/comparing/search/expansion.js';
import type { ScriptStep } from '../../../src/comparing/script.js';
import { Walk, type WalkScope } from '../../../src/comparing/search/walk.js';

const numberIn = (step: ScriptStep): number => ('payload' in step ? Number(step.payload) : 0);

/** A ring of places: each input goes so many places on. */
const places = 12;
const inputs = [1, 5];

/** Where a path leads, and what the inputs there lead to. */
function leadsAt(
  { path }: FrontierState,
  isWithin: (place: number) => boolean,
): readonly NextState[] {
  const at = path.reduce((sum, step) => sum + numberIn(step), 0) % places;
  return inputs.map((payload) => {
    const to = (at + payload) % places;
    return { input: { send: 'ring.go', payload }, key: String(to), isWithin: isWithin(to) };
  });
}

const keyOf = ({ path }: FrontierState) =>
  String(path.reduce((sum, step) => sum + numberIn(step), 0) % places);

/** Does a work item as an expansion would, up to its steps. */
function done(item: ExpandItem, isWithin: (place: number) => boolean): Expansion {
  const expanded = [];
  let steps = 0;
  for (const frontierState of item.states) {
    if (steps >= item.steps && steps > 0) break;
    const all = leadsAt(frontierState, isWithin);
    const own = all.slice(
      frontierState.tried,
      frontierState.tried + Math.max(1, item.steps - steps),
    );
    steps += own.length;
    const tried = frontierState.tried + own.length;
    expanded.push({
      key: keyOf(frontierState),
      tried,
      isDone: tried === all.length,
      nextStates: own,
    });
  }
  return { steps, transitions: steps, expanded, notReported: new Map(), found: undefined };
}

function walkedThrough(
  scope: Partial<WalkScope>,
  isWithin: (place: number) => boolean = () => true,
) {
  const walk = new Walk({ store: 'ring', by: 'state', steps: 1000, depth: Infinity, ...scope });
  const paths: string[] = [];
  for (let items = walk.next(); items.length > 0; items = walk.next()) {
    for (const { states } of items)
      paths.push(...states.map(({ path }) => path.map(numberIn).join()));
    walk.take(items.map((item) => done(item, isWithin)));
  }
  return { walk, paths };
}

describe('a walk by state', () => {
  test('goes to each state once, nearest first, and is closed then', () => {
    const { walk, paths } = walkedThrough({});
    expect(walk.walked).toMatchObject({ states: places, transitions: 24, isClosed: true });
    expect(paths.slice(0, 6)).toEqual(['', '1', '5', '1,1', '1,5', '5,5']);
    expect(new Set(paths).size).toBe(paths.length);
    expect(walk.isOut).toBe(true);
  });

  test('goes on in the middle of a state when it gets more steps', () => {
    const { walk } = walkedThrough({ steps: 5 });
    expect(walk.walked).toMatchObject({ steps: 5, transitions: 5, depth: 1, isClosed: false });
    expect([walk.left, walk.isOut]).toEqual([0, false]);
    walk.grant(1000);
    for (let items = walk.next(); items.length > 0; items = walk.next())
      walk.take(items.map((item) => done(item, () => true)));
    expect(walk.walked).toMatchObject({ states: places, transitions: 24, isClosed: true });
  });

  test('ends at its depth, and says that something is left', () => {
    const { walk } = walkedThrough({ depth: 2 });
    expect(walk.walked).toMatchObject({ transitions: 6, depth: 2, isClosed: false });
    expect(walk.isOut).toBe(true);
  });

  test('does not go on from states that are too large, and says so', () => {
    const { walk } = walkedThrough({}, (place) => place < 3);
    expect(walk.walked).toMatchObject({ isClosed: true, isBounded: true });
    expect(walk.walked.transitions).toBe(6);
  });

  test('says whether anything was done at all; of a task, whether it was started', () => {
    expect(walkedThrough({}).walk.walked.isEntered).toBe(true);
    expect(walkedThrough({ task: 'turn' }).walk.walked.isEntered).toBe(false);
    const nothingDone = new Walk({ store: 'ring', by: 'state', steps: 9, depth: Infinity });
    const expanded = [{ key: '0', tried: 2, isDone: true, nextStates: [] }];
    nothingDone.next();
    nothingDone.take([{ steps: 2, transitions: 2, expanded }]);
    expect(nothingDone.walked).toMatchObject({ isClosed: true, isEntered: false });
    // It begins elsewhere then.
    expect(nothingDone.isVain).toBe(true);
    nothingDone.beginAfter([{ send: 'ring.unlock' }]);
    expect([nothingDone.isVain, nothingDone.isOut]).toEqual([false, false]);
    expect(nothingDone.next()).toMatchObject([
      { base: 1, states: [{ path: [{ send: 'ring.unlock' }], tried: 0 }] },
    ]);
    expect(nothingDone.walked).toMatchObject({ begunAfter: 1, transitions: 2, states: 1 });
    const started = new Walk({ store: 'ring', task: 'turn', by: 'state', steps: 9, depth: 1 });
    const nextStates = [{ input: { start: 'ring.turn' }, key: '1', isWithin: true }];
    started.next();
    started.take([
      { steps: 1, transitions: 1, expanded: [{ key: '0', tried: 1, isDone: true, nextStates }] },
    ]);
    expect(started.walked.isEntered).toBe(true);
  });

  test('does again what was not done since the time was up', () => {
    const walk = new Walk({ store: 'ring', by: 'state', steps: 1000, depth: Infinity });
    walk.take([]);
    expect(walk.walked).toMatchObject({ transitions: 0, depth: 0, isClosed: false });
    const again = walk.next();
    expect(again.map(({ states }) => states.length)).toEqual([1]);
    walk.take([]);
    expect(walk.next()).toEqual(again);
  });
});

test('a walk by sequence counts each, whatever it leads to', () => {
  const { walk, paths } = walkedThrough({ by: 'sequence', depth: 3 });
  expect(paths).toEqual(['', '1', '5', '1,1', '1,5', '5,1', '5,5']);
  expect(walk.walked).toMatchObject({ states: 15, transitions: 14, depth: 3, isClosed: false });
});

test('a walk goes on after states in which nothing could be done', () => {
  const walk = new Walk({ store: 'ring', by: 'state', steps: 1000, depth: 9 });
  const idle = { tried: 2, isDone: true, nextStates: [] };
  const leading = { input: { send: 'ring.go', payload: 1 }, key: 'next', isWithin: true };
  const nothing = { steps: 0, transitions: 0 };
  expect(walk.next()).toHaveLength(1);
  walk.take([{ ...nothing, expanded: [{ key: 'start', ...idle, nextStates: [leading] }] }]);
  for (const { steps } of walk.next()) expect(steps).toBeGreaterThan(0);
});
