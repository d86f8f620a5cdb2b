import { describe, expect, test } from '@jest/globals';
import { Session } from '../../../src/comparing/session/session.js';
import type { Environment, Outcome, Participant, Running } from '../../../src/model/participant.js';
import { observables } from '../../../src/model/observed-class.js';

/** A small participant with a gauge, of which parts can be replaced. */
function gauge(
  name: string,
  change: (running: Running, environment: Environment) => Partial<Running> = () => ({}),
): Participant {
  return {
    name,
    create(environment) {
      let level = 0;
      const watchers = new Set<(now: unknown, before: unknown) => void>();
      const running: Running = {
        send(_store, _action, payload): Outcome {
          const before = level;
          level = Number(payload);
          if (level !== before) for (const watcher of watchers) watcher(level, before);
          return { status: 'done' };
        },
        read: () => ({ tide: { level, marks: ['a', { deep: level > 2 }] } }),
        derive: () => ({ tide: { high: level > 2 } }),
        watch(_target, changed) {
          watchers.add(changed);
          return () => void watchers.delete(changed);
        },
      };
      return { ...running, ...change(running, environment) };
    },
  };
}

const rise = (payload: number) => ({ send: 'tide.rise', payload });

function compare(other: Participant, ...levels: readonly number[]) {
  const session = new Session([gauge('reference'), other], {
    classes: observables,
    targets: ['tide.level'],
    questions: () => [],
  });
  return levels.map((level) => session.step(rise(level)).difference);
}

describe('a session', () => {
  test('finds no difference between participants that do the same', () => {
    expect(compare(gauge('same'), 1, 3, 3)).toEqual([undefined, undefined, undefined]);
  });

  test.each<[string, Participant, object]>([
    [
      'an outcome',
      gauge('odd', () => ({ send: () => ({ status: 'broken', action: 'x' }) })),
      { what: 'outcome', at: '', actual: { status: 'broken', action: 'x' } },
    ],
    [
      'a part of the state',
      gauge('odd', ({ read }) => ({
        read: () => ({ tide: { ...(read().tide as object), level: 9 } }),
      })),
      { what: 'state', at: '/tide/level', expected: 3, actual: 9 },
    ],
    [
      'a part that is missing',
      gauge('odd', () => ({ read: () => ({ tide: { level: 3 } }) })),
      { what: 'state', at: '/tide/marks', actual: undefined },
    ],
    [
      'a derived value',
      gauge('odd', () => ({ derive: () => ({ tide: { high: false } }) })),
      { what: 'derived', at: '/tide/high', expected: true, actual: false },
    ],
    [
      'a notice that does not come',
      gauge('odd', () => ({ watch: () => () => undefined })),
      { what: 'notices' },
    ],
    [
      'a notice that comes twice',
      gauge('odd', ({ watch }) => ({
        watch: (target, changed) => (
          watch?.(target, changed),
          watch?.(target, (now, before) => changed(now, before)) ?? (() => undefined)
        ),
      })),
      { what: 'notices' },
    ],
    [
      'a problem that is told',
      gauge('odd', ({ send }, { onProblem }) => ({
        send: (...args) => (onProblem({ kind: 'action', at: 'x' }), send(...args)),
      })),
      { what: 'problems', at: '/0' },
    ],
    [
      'an answer that is thrown',
      gauge('odd', () => ({
        read: () => {
          throw new RangeError('no water');
        },
      })),
      { what: 'state', at: '', actual: { threw: 'RangeError: no water' } },
    ],
    [
      'a start that fails',
      {
        name: 'odd',
        create: () => {
          throw new Error('no tide');
        },
      },
      { what: 'outcome', actual: { threw: 'Error: no tide' } },
    ],
  ])('shows %s', (_what, participant, difference) => {
    const [found] = compare(participant, 3);
    expect(found).toMatchObject({ step: 0, participant: 'odd', ...difference });
  });

  test('finds derived values of a store that there is not', () => {
    const odd = gauge('odd', ({ derive }) => ({ derive: () => ({ ...derive?.(), moon: {} }) }));
    expect(compare(odd, 1)[0]).toMatchObject({ what: 'derived', at: '/moon' });
  });

  test('finds the same with the first ahead, and names the step', () => {
    const late = gauge('late', ({ send }) => ({
      send: (store, action, payload) =>
        payload === 3 ? { status: 'broken', action: 'x' } : send(store, action, payload),
    }));
    const later = gauge('later', ({ read }) => ({
      read: () => ((read().tide as { level: number }).level === 4 ? { tide: 'ebb' } : read()),
    }));
    const observed = { classes: observables, targets: ['tide.level'], questions: () => [] };
    // Whoever goes wrong first counts, not who follows first.
    const run = new Session([gauge('reference'), later, late], observed, { ahead: 4 });
    const found = [1, 2, 3, 4].map((level) => run.step(rise(level)).difference);
    expect(found.slice(0, 3)).toEqual([undefined, undefined, undefined]);
    expect(found[3]).toMatchObject({ participant: 'late', what: 'outcome', step: 2 });
  });

  test('says after which step they differ', () => {
    const late = gauge('late', ({ derive }) => {
      let asked = 0;
      return { derive: () => ((asked += 1) > 3 ? { tide: { high: 'late' } } : (derive?.() ?? {})) };
    });
    const found = compare(late, 1, 2, 3);
    expect(found.map((difference) => difference?.step)).toEqual([undefined, undefined, 2]);
  });
});

describe('what a session does beyond sending', () => {
  const observed = { classes: observables, targets: ['tide.level'], questions: () => [] };
  const session = (other: Participant) =>
    new Session([gauge('reference'), other], observed, { look: 'fully' });

  test('parts that are equal and yet other objects are a difference', () => {
    const level = gauge('odd', ({ read }) => ({ read: () => structuredClone(read()) }));
    expect(session(level).step(rise(1)).difference).toMatchObject({
      what: 'identity',
      actual: ['/tide/marks'],
    });
  });

  test('a snapshot that has changed since is a difference', () => {
    const shared = { level: 0, marks: ['a', { deep: false }] };
    const odd = gauge('odd', ({ read }) => ({
      read: () => ({ tide: Object.assign(shared, structuredClone(read().tide)) }),
    }));
    const run = new Session([gauge('reference'), odd], {
      ...observed,
      classes: ['state', 'snapshots'],
    });
    run.step(rise(1), { look: 'fully' });
    expect(run.step(rise(3), { look: 'fully' }).difference).toMatchObject({ what: 'snapshots' });
  });

  test('watchers of a script are told and stopped', () => {
    const few = { ...observed, classes: ['outcome', 'state', 'notices'] as const };
    const run = new Session([gauge('reference'), gauge('same')], few);
    expect(run.step({ watch: 'tide.level', as: 'w1' }).difference).toBeUndefined();
    expect(run.step(rise(1)).difference).toBeUndefined();
    expect(run.step({ stop: 'w1' }).difference).toBeUndefined();
    const deaf = gauge('deaf', ({ watch }) => {
      let added = 0;
      return {
        watch: (target, changed) =>
          (added += 1) > 1 ? () => undefined : (watch?.(target, changed) ?? (() => undefined)),
      };
    });
    const other = new Session([gauge('reference'), deaf], few);
    other.step({ watch: 'tide.level', as: 'w1' });
    expect(other.step(rise(1)).difference).toMatchObject({ what: 'notices' });
  });

  test('the final outcomes of queued actions are compared', async () => {
    const queueing = (name: string, final: Outcome) =>
      gauge(name, () => ({ send: () => ({ status: 'queued', outcome: Promise.resolve(final) }) }));
    const done: Outcome = { status: 'done' };
    const same = new Session([queueing('reference', done), queueing('same', done)], observed);
    expect(same.step(rise(1)).difference).toBeUndefined();
    expect(await same.settled()).toBeUndefined();
    const refused: Outcome = { status: 'refused', reason: 'a', at: '/b' };
    const odd = new Session([queueing('reference', done), queueing('odd', refused)], observed);
    expect(odd.step(rise(1)).difference).toBeUndefined();
    expect(await odd.settled()).toMatchObject({ what: 'outcome', participant: 'odd' });
  });

  test('what comes to nothing can be left to the first alone, and leaves no trace', () => {
    const asked: number[] = [];
    const other = gauge('other', ({ send }) => ({
      send: (...args) => (asked.push(Number(args[2])), send(...args)),
    }));
    const keeping = gauge('reference', ({ read }) => {
      let last = read();
      return {
        read: () => (JSON.stringify(read()) === JSON.stringify(last) ? last : (last = read())),
      };
    });
    const run = new Session([keeping, other], { ...observed, classes: ['state'] });
    expect(run.step(rise(1), { skipIdle: true }).done).toBe(true);
    expect(run.step(rise(1), { skipIdle: true }).done).toBe(false);
    expect(run.step(rise(1)).done).toBe(true);
    expect([asked, run.steps]).toEqual([[1, 1], 2]);
  });
});
