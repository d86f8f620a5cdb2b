import { afterEach, describe, expect, test } from '@jest/globals';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import { nextTurn } from '../../src/base/turn.js';
import { allStyles, foldersOf, modelOf } from '../helpers.js';

const berths = `
leeshore: 1
services: { office: { operations: { free: { result: integer } } } }
stores:
  berths:
    state: { boats: { list: { fields: { id: string, name: string } }, by: id }, free: { maybe: integer } }
    actions:
      come: { payload: string, steps: [{ append: { to: boats, value: "{ id: newId(), name: payload }" } }] }
    tasks:
      ask: { operation: office.free, finish: [{ set: { free: "result" } }] }
`;

/** What a platform has, in place of what is there. */
function withPlatform(own: Readonly<Record<string, unknown>>): void {
  for (const [name, value] of Object.entries(own))
    Object.defineProperty(globalThis, name, { value, configurable: true, writable: true });
}
const real = { crypto: globalThis.crypto, AbortController: globalThis.AbortController };
afterEach(() => {
  withPlatform(real);
});

const uuid = /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;

describe('stores whose application gives nothing but services', () => {
  const platforms: readonly (readonly [string, Readonly<Record<string, unknown>>])[] = [
    ['that was loaded securely', {}],
    [
      'that was not, so that there is no function for a UUID',
      { crypto: { getRandomValues: (bytes: Uint8Array) => bytes.fill(7) } },
    ],
    [
      'without a source of chance and without signals',
      { crypto: undefined, AbortController: undefined },
    ],
  ];
  test.each(platforms)(
    'make identifiers and call services on a page %s',
    async (_name, platform) => {
      const application = await modelOf(berths);
      const folders = await foldersOf(application, allStyles);
      withPlatform(platform);
      for (const { name, style, files } of folders) {
        const signals: unknown[] = [];
        const { create } = generatedParticipant(name, style, files, namesOf(application));
        const running = create({
          newId: undefined as never,
          now: Date.now,
          random: Math.random,
          onProblem: () => undefined,
          services: {
            office: {
              free: (_payload, signal) => {
                signals.push(signal);
                return Promise.resolve(3);
              },
            },
          },
        });
        running.send('berths', 'come', 'Aurora');
        running.start?.('berths', 'ask', undefined);
        await nextTurn();
        expect(running.read()).toEqual({
          berths: { boats: [{ id: expect.stringMatching(uuid), name: 'Aurora' }], free: 3 },
        });
        expect(signals.map((signal) => signal === undefined)).toEqual([
          'AbortController' in platform,
        ]);
      }
    },
  );
});
