import { beforeAll, describe, expect, test } from '@jest/globals';
import type { Application } from '../../src/model/application.js';
import { overlaps, type Overlap } from '../../src/model/tasks.js';
import { modelOf } from '../helpers.js';
import { participantNames, start } from '../participants.js';
import { TideWorld } from './tide-world.js';

const schema = `
leeshore: 1
services: { office: { operations: { ask: { payload: string, result: string } } } }
stores:
  timetable:
    state: { log: { list: string } }
    tasks:
${overlaps
  .map(
    (overlap) => `      ${overlap}:
        payload: string
        overlap: ${overlap}
        operation: office.ask
        timeLimit: 100
        start: [{ append: { to: log, value: "'s' + payload" } }]
        finish: [{ append: { to: log, value: "'f' + result" } }]
        fail: [{ append: { to: log, value: "error.kind === 'timeout' ? 't' : 'x'" } }]
        cancel: [{ append: { to: log, value: "'c' + payload" } }]
`,
  )
  .join('')}`;

/**
 * What is done, one letter each: A and B start, a and b are the answers to their calls, !a and !b their failures, C cancels, T
 * lets the time limit pass. After it, what the steps noted: s at a start, f for an answer, x for a failure, t for a timeout, c
 * at a cancel. All of it is written by hand.
 */
const expected: Readonly<Record<Overlap, string>> = {
  // The second start displaces the first, which then counts for nothing.
  latest: `
    A B a b    sA sB fb
    A B b a    sA sB fb
    A a B b    sA fa sB fb
    A B !a b   sA sB fb
    A B b !a   sA sB fb
    A !a B b   sA x sB fb
    A B a !b   sA sB x
    A B !b a   sA sB x
    A a B !b   sA fa sB x
    A C B a b  sA cA sB fb
    A B C a b  sA sB cB
    A B a C b  sA sB cB
    A B a b C  sA sB fb
    A B C b a  sA sB cB
    A B b C a  sA sB fb
    A B b a C  sA sB fb
    A C a B b  sA cA sB fb
    A a C B b  sA fa sB fb
    A a B C b  sA fa sB cB
    A a B b C  sA fa sB fb
    A T B a b  sA t sB fb
    A B T a b  sA sB t
    A B a T b  sA sB t
    A B a b T  sA sB fb
    A B T b a  sA sB t
    A B b T a  sA sB fb
    A B b a T  sA sB fb
    A T a B b  sA t sB fb
    A a T B b  sA fa sB fb
    A a B T b  sA fa sB t
    A a B b T  sA fa sB fb`,
  // The second start is refused as long as the first goes on; then there is no call to answer.
  first: `
    A B a b    sA fa
    A B b a    sA fa
    A a B b    sA fa sB fb
    A B !a b   sA x
    A B b !a   sA x
    A !a B b   sA x sB fb
    A B a !b   sA fa
    A B !b a   sA fa
    A a B !b   sA fa sB x
    A C B a b  sA cA sB fb
    A B C a b  sA cA
    A B a C b  sA fa
    A B a b C  sA fa
    A B C b a  sA cA
    A B b C a  sA cA
    A B b a C  sA fa
    A C a B b  sA cA sB fb
    A a C B b  sA fa sB fb
    A a B C b  sA fa sB cB
    A a B b C  sA fa sB fb
    A T B a b  sA t sB fb
    A B T a b  sA t
    A B a T b  sA fa
    A B a b T  sA fa
    A B T b a  sA t
    A B b T a  sA t
    A B b a T  sA fa
    A T a B b  sA t sB fb
    A a T B b  sA fa sB fb
    A a B T b  sA fa sB t
    A a B b T  sA fa sB fb`,
  // The second start waits for the end of the first; before that there is no call to answer.
  queue: `
    A B a b    sA fa sB fb
    A B b a    sA fa sB
    A a B b    sA fa sB fb
    A B !a b   sA x sB fb
    A B b !a   sA x sB
    A !a B b   sA x sB fb
    A B a !b   sA fa sB x
    A B !b a   sA fa sB
    A a B !b   sA fa sB x
    A C B a b  sA cA sB fb
    A B C a b  sA cA
    A B a C b  sA fa sB cB
    A B a b C  sA fa sB fb
    A B C b a  sA cA
    A B b C a  sA cA
    A B b a C  sA fa sB cB
    A C a B b  sA cA sB fb
    A a C B b  sA fa sB fb
    A a B C b  sA fa sB cB
    A a B b C  sA fa sB fb
    A T B a b  sA t sB fb
    A B T a b  sA t sB fb
    A B a T b  sA fa sB t
    A B a b T  sA fa sB fb
    A B T b a  sA t sB fb
    A B b T a  sA t sB
    A B b a T  sA fa sB t
    A T a B b  sA t sB fb
    A a T B b  sA fa sB fb
    A a B T b  sA fa sB t
    A a B b T  sA fa sB fb`,
  // Both go on side by side.
  parallel: `
    A B a b    sA sB fa fb
    A B b a    sA sB fb fa
    A a B b    sA fa sB fb
    A B !a b   sA sB x fb
    A B b !a   sA sB fb x
    A !a B b   sA x sB fb
    A B a !b   sA sB fa x
    A B !b a   sA sB x fa
    A a B !b   sA fa sB x
    A C B a b  sA cA sB fb
    A B C a b  sA sB cA cB
    A B a C b  sA sB fa cB
    A B a b C  sA sB fa fb
    A B C b a  sA sB cA cB
    A B b C a  sA sB fb cA
    A B b a C  sA sB fb fa
    A C a B b  sA cA sB fb
    A a C B b  sA fa sB fb
    A a B C b  sA fa sB cB
    A a B b C  sA fa sB fb
    A T B a b  sA t sB fb
    A B T a b  sA sB t t
    A B a T b  sA sB fa t
    A B a b T  sA sB fa fb
    A B T b a  sA sB t t
    A B b T a  sA sB fb t
    A B b a T  sA sB fb fa
    A T a B b  sA t sB fb
    A a T B b  sA fa sB fb
    A a B T b  sA fa sB t
    A a B b T  sA fa sB fb`,
};

const rowsOf = (overlap: Overlap) =>
  expected[overlap]
    .trim()
    .split('\n')
    .map((line) => line.trim().split(/\s{2,}/) as [string, string]);

let application: Application;
beforeAll(async () => {
  application = await modelOf(schema);
});

/** What the steps noted, after what was done one after the other. */
async function noted(world: TideWorld, task: string, steps: readonly string[]): Promise<string> {
  for (const step of steps) {
    const calls = [...world.calls];
    const callOf = (letter: string) =>
      calls.findIndex((call) => call === `office.ask "${letter.toUpperCase()}"`) + 1;
    if (step === 'A' || step === 'B') world.start(task, step);
    else if (step === 'C') world.cancel(task);
    else if (step === 'T') await world.pass(100);
    else if (step.startsWith('!')) await world.fail(callOf(step.charAt(1)));
    else await world.answer(callOf(step), step);
    await world.rest();
  }
  return (world.state('timetable').log as readonly string[]).join(' ');
}

describe.each(participantNames)('%s', (name) => {
  describe.each(overlaps)('%s', (overlap) => {
    test('two starts, with answers, failures, cancels and time in every order', async () => {
      const shown: string[] = [];
      for (const [done] of rowsOf(overlap)) {
        const world = await TideWorld.begin(application, (change) => start(schema, name, change));
        const log = await noted(world, `timetable.${overlap}`, done.split(' '));
        shown.push(`${done}  ${log}`);
        expect(world.reports).toEqual([]);
      }
      expect(shown).toEqual(rowsOf(overlap).map(([done, log]) => `${done}  ${log}`));
    });
  });
});
