import { describe, expect, test } from '@jest/globals';
import { Session } from '../../src/explore/session.js';
import {
  observables,
  type Environment,
  type Outcome,
  type Participant,
  type Running,
} from '../../src/model/participant.js';

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
      gauge('odd', () => ({ send: () => ({ status: 'broken', at: 'x' }) })),
      { what: 'outcome', at: '', actual: { status: 'broken', at: 'x' } },
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

  test('says after which step they differ', () => {
    const late = gauge('late', ({ derive }) => {
      let asked = 0;
      return { derive: () => ((asked += 1) > 3 ? { tide: { high: 'late' } } : (derive?.() ?? {})) };
    });
    const found = compare(late, 1, 2, 3);
    expect(found.map((difference) => difference?.step)).toEqual([undefined, undefined, 2]);
  });
});
