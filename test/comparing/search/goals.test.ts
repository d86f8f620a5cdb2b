import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { Random } from '../../../src/base/random.js';
import { Goals } from '../../../src/comparing/search/goals.js';
import { Preparing } from '../../../src/comparing/search/preparing.js';
import type { SendStep } from '../../../src/comparing/script.js';
import { coverableOf } from '../../../src/model/cover-points.js';
import type { Application } from '../../../src/model/application.js';
import { compareStores } from '../../../src/jobs/compare.js';
import { foldersOf, modelOf, root, unlimited } from '../../helpers.js';
import { someOf } from '../../sweep.js';

const text = readFileSync(new URL('test/fixtures/drill.stores.yaml', root), 'utf8');

let drill: Application;
beforeAll(async () => {
  drill = await modelOf(text);
});

describe('what prepares an action', () => {
  test('is what stores what it looks at, then what stores what that looks at', () => {
    const [first, second] = new Preparing(drill).before('boats.castOff');
    expect(first).toEqual(expect.arrayContaining(['boats.man', 'boats.recall', 'boats.stow']));
    expect(first).not.toContain('people.arrive');
    expect(second).toEqual(expect.arrayContaining(['bridge.sound', 'boats.lower']));
  });

  test('leaves out what has nothing to do with it', () => {
    const all = new Preparing(drill).before('boats.castOff').flat();
    expect(all).not.toContain('galley.boil');
    // That it puts the boats back is reason enough.
    expect(all).toContain('galley.drop');
  });

  test('names each once, and not the action itself', () => {
    const all = new Preparing(drill).before('bridge.sound').flat();
    expect(new Set(all).size).toBe(all.length);
    expect(all).not.toContain('bridge.sound');
  });
});

describe('goals', () => {
  const send = (name: string): SendStep => ({ send: name });

  test('are the points that were not reached, with the script that came nearest', () => {
    const { points, decisions } = coverableOf(drill);
    const all = [...points, ...decisions.flatMap(({ sides }) => sides)];
    const castOff = all.findIndex(({ id }) => id === 'boats.castOff done');
    const others = new Set(all.keys());
    others.delete(castOff);
    const goals = new Goals({ application: drill, participants: [], points: all }, [
      'boats.castOff',
      'boats.man',
    ]);
    const near = { steps: [send('boats.man')], reaches: [], near: [[castOff, 0.5]] } as const;
    expect(goals.note(near)).toBe(true);
    expect(goals.note({ ...near, near: [[castOff, 1.5]] })).toBe(false);
    expect(goals.left(others, new Set())).toMatchObject([{ name: 'boats.castOff', nearest: near }]);
    expect(goals.left(new Set(all.keys()), new Set())).toEqual([]);
    expect(goals.nearest).toEqual([[castOff, 0.5]]);
    const [look] = goals.looks(others, [near], new Random(1));
    expect(look).toMatchObject({ point: castOff, names: ['boats.castOff'] });
    expect(look?.kind === 'look ahead' && look.from).toContainEqual(near.steps);
  });
});

describe('what many others have to come before is got to', () => {
  test.each(someOf([1, 2, 3], 1))('seed %i', async (seed) => {
    const comparison = await compareStores(drill, await foldersOf(drill, ['proxy']), {
      ...unlimited,
      seed,
      steps: 24_000,
    });
    expect(comparison.verdict).toBe('same');
    expect(comparison.coverage.missing.map(({ id }) => id)).toEqual([]);
  });
});
