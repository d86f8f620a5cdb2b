import { describe, expect, test } from '@jest/globals';
import { Random } from '../../../src/base/random.js';
import { Traits } from '../../../src/comparing/search/traits.js';
import { variation, type PlannedStep } from '../../../src/comparing/search/vary.js';
import { ferryText, modelOf } from '../../helpers.js';

describe('a variation of a script', () => {
  const steps = ['admit', 'board', 'depart'].map((name) => ({ send: `deck.${name}` }));
  const other = [{ send: 'wind.calmDown' }];
  const nameOf = (step: PlannedStep) =>
    'again' in step ? step.again : 'send' in step ? step.send : '';

  test('is made of its steps and those of another, and the same each time', () => {
    const kinds = new Set<string>();
    for (let seed = 0; seed < 200; seed += 1) {
      const varied = variation(steps, other, new Random(seed));
      expect(variation(steps, other, new Random(seed))).toEqual(varied);
      const names = varied.map(nameOf);
      for (const name of names)
        expect([...steps, ...other].map(({ send }) => send)).toContain(name);
      kinds.add(names.join(' '));
      if (varied.some((step) => 'again' in step)) kinds.add('again');
      if (names.includes('wind.calmDown')) kinds.add('spliced');
    }
    expect(kinds.size).toBeGreaterThan(30);
    expect([...kinds]).toEqual(expect.arrayContaining(['again', 'spliced']));
  });

  test('of a script without steps is none', () => {
    expect(variation([], other, new Random(1))).toEqual([]);
  });
});

describe('traits of states', () => {
  test('are how many items there are of which kind, and which of it at the same time; each once', async () => {
    const application = await modelOf(ferryText);
    const traits = new Traits(application, []);
    const vehicle = { id: 'a', plate: 'a', lengthM: 4, lane: 'port', boarded: true };
    const state = (vehicles: readonly object[], hold: string | null) => ({
      deck: { vehicles, hold, capacityM: 240, byLane: {} },
    });
    traits.look(state([vehicle], null));
    expect(traits.added).toEqual(
      expect.arrayContaining([
        'deck.vehicles 1',
        'deck.vehicles.boarded true 1',
        'deck.vehicles.lane port 1',
        'deck.hold n',
      ]),
    );
    const before = traits.added.length;
    traits.look(state([vehicle], null));
    expect(traits.added).toHaveLength(before);
    traits.look(state([vehicle], 'ice'));
    expect(traits.added.slice(before)).toEqual(['deck.hold s', expect.stringContaining('s ')]);
    expect(new Traits(application, traits.added).added).toEqual([]);
  });
});
