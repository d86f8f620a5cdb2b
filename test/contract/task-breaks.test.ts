import { beforeAll, describe, expect, test } from '@jest/globals';
import type { GeneratedFolder } from '../../src/core.js';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import type { Application } from '../../src/model/application.js';
import { foldersOf, modelOf } from '../helpers.js';
import { startOf } from '../participants.js';
import { broken, type Break } from './broken.js';
import { pier, taskPromises } from './task-promises.js';
import { TideWorld } from './tide-world.js';

const tasks = 'runtime/tasks.ts';
const streaming = 'runtime/streaming.ts';
const call = 'runtime/call.ts';
const times = 'runtime/task-times.ts';
const transaction = 'runtime/transaction.ts';
const answers = 'runtime/answers.ts';
const following = 'runtime/following.ts';

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'a start calls at its commit, with what it computes': [
    ['reducer', tasks, 'this.answer(plan.with, run)', 'run.payload'],
  ],
  'a refused start calls nothing and disturbs nobody': [
    [
      'atom',
      tasks,
      'const given = this.engine.perform(`${name}.start`, payload, {}) ?? {};',
      'this.put(name, [], []);\nthis.states = this.pending;\nconst given = this.engine.perform(`${name}.start`, payload, {}) ?? {};',
    ],
  ],
  'names that are bound at the start keep their values': [
    ['proxy', tasks, '{ ...given, ...more });', '{ ...more });'],
  ],
  'a late answer of a displaced run counts for nothing': [
    ['observable', tasks, 'others.includes(one)', 'false'],
  ],
  'under latest the exchange is one commit: running does not change': [
    [
      'reducer',
      tasks,
      'const work = this.engine.transaction((accepted)',
      'this.cancel(name);\nconst work = this.engine.transaction((accepted)',
    ],
  ],
  'what goes on is read as before the transaction, within it': [
    ['atom', tasks, 'return stateOf(this.states, name).readings;', 'return idle.readings;'],
  ],
  'starts of steps come after the transaction, in order': [
    ['proxy', transaction, 'this.asked.splice(0))', 'this.asked.splice(0).reverse())'],
  ],
  'a transaction that is refused starts and cancels nothing': [
    ['observable', transaction, 'if (this.asked.length > 0) this.asked = [];', ''],
  ],
  'a cancel step takes back what earlier steps asked for': [
    ['reducer', tasks, 'asked.name !== name || ', 'true || '],
  ],
  'a cancel does its steps and aborts, once for each run': [
    ['atom', tasks, 'of gone) this.perform(', 'of gone.slice(0, 1)) this.perform('],
  ],
  'the oldest run is cancelled first, whichever task it is of': [
    ['proxy', tasks, 'gone.sort((a, b) => a.run.number - b.run.number);', ''],
  ],
  'runs of other values do not meet': [
    ['observable', tasks, 'runs.filter((run) => same(run.per, per))', 'runs.filter(() => true)'],
  ],
  'what is set aside is queued, and has the next turn': [
    ['reducer', tasks, 'this.#next(name, now);', ''],
  ],
  'what is set aside is refused when it is cancelled': [
    ['atom', tasks, "reason: 'cancelled'", "reason: 'closed'"],
  ],
  'a result that does not fit is a failure': [
    ['proxy', answers, 'taken instanceof Misfit ? undefined : ', ''],
  ],
  'properties that the type does not have are taken off': [
    ['observable', answers, 'extra(value, type)', 'value'],
  ],
  'a rejection carries its data if that fits': [
    ['reducer', answers, "judged(error, check, 'error')?.value ?? null", 'error'],
  ],
  'a finish that is refused is a failure, in the same turn': [
    ['atom', tasks, 'message: error.reason }', 'message: String(error) }'],
  ],
  'a failed call is made again, after a wait that grows': [
    ['proxy', times, 'attempt: live.attempt + 1', 'attempt: 1'],
  ],
  'a call is not made again where the condition does not hold': [
    ['observable', times, 'if (wanted.value !== true) return false;', ''],
  ],
  'the time limit counts from each call, and aborts it': [
    ['reducer', call, /live\.quit\(true\);\s+(?=caller\.fail)/, ''],
  ],
  'a wait comes before the call, which reads what is there then': [
    ['atom', tasks, 'if (ms > 0)', 'if (ms > 1e9)'],
  ],
  'a run that is cancelled in its wait makes no call': [
    [
      'proxy',
      call,
      'for (const timer of this.#set) this.#timers.clearTimeout(timer as never);',
      '',
    ],
  ],
  'a run that repeats goes on after each round': [
    ['observable', tasks, '!live.isLast', 'live.isLast'],
  ],
  'a stream gives its values one by one, up to its end': [
    [
      'reducer',
      streaming,
      'if (!isOver) next(value);',
      'if (isOver) return;\nisOver = true;\nnext(value);',
    ],
  ],
  'the second stream is as good as the first': [
    [
      'atom',
      call,
      'if (answered(false)) caller.value(value);',
      'if (answered(false) && live.number === 1) caller.value(value);',
    ],
  ],
  'a stream is given up when its run is cancelled': [
    ['proxy', streaming, /isOver = true;\s+stop\(\);(?=\s+\};\s+\})/, ''],
  ],
  'a value that does not fit fails the run': [
    [
      'observable',
      streaming,
      /return tasks\.lost\(live, run, errorOf\('bad result'\)\);(?=\s+\}\s+try)/,
      'return false;',
    ],
  ],
  'the time limit of a stream runs up to its first value': [
    ['reducer', call, 'unlimit?.();', 'if (isLast) unlimit?.();'],
  ],
  'a task follows a value: each change starts it, null cancels': [
    ['atom', following, '? value !== null :', '? true :'],
  ],
  'a task goes on while a condition holds': [
    ['proxy', following, 'else if (before !== undefined) tasks.cancelUnasked(name);', ''],
  ],
  'what nobody called and does not fit is told': [
    ['observable', tasks, "turns.report({ kind: 'task', at });", 'void at;'],
  ],
  'an operation that throws, or is not given, has failed': [
    ['reducer', call, /catch \(error\) \{\s+reject\(error\);/, 'catch (error) {\nthrow error;'],
  ],
  'an answer that is there at once takes a turn of its own': [
    ['atom', call, 'else answer(said);', 'else void Promise.resolve(said).then(answer, reject);'],
  ],
  'what is derived follows what goes on': [
    ['atom', tasks, 'if (before !== this.states) this.engine.renew();', ''],
  ],
  'closing abandons all, and refuses what comes': [
    ['observable', tasks, "reason: 'closed' });", "reason: 'cancelled' });"],
  ],
};

describe('each promise of tasks is watched: its test fails when it is broken', () => {
  let application: Application;
  let folders: readonly GeneratedFolder[];
  beforeAll(async () => {
    application = await modelOf(pier);
    folders = await foldersOf(application);
  });

  test.each(taskPromises)('$what', async ({ what, holds }) => {
    const changes = breaks[what] ?? [];
    const style = changes[0]?.[0];
    const folder = folders.find((one) => one.style === style);
    if (folder === undefined) throw new Error('nothing breaks this promise');
    const { files } = broken(folder, changes);
    const participant = generatedParticipant('broken', folder.style, files, namesOf(application));
    await expect(
      holds((change) =>
        TideWorld.begin(application, (environment) => startOf(participant, environment), change),
      ),
    ).rejects.toThrow();
    expect(Object.keys(breaks)).toContain(what);
  });
});
