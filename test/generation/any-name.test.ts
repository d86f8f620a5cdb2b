import { expect, test } from '@jest/globals';
import { languageNames, whyNoName } from '../../src/language/check/names.js';
import { compareStores } from '../../src/jobs/compare.js';
import { foldersOf, modelOf, unlimited } from '../helpers.js';
import { someOf } from '../sweep.js';

/** How many locals the schema below has: A, B, C, ... */
const letters = 'ABCDEFGHIJKLMNOPQRST';

/** A schema with a local wherever there can be one; `nameOf` gives what each is called. */
const schemaWith = (nameOf: (letter: string) => string) =>
  `
leeshore: 1
types:
  Lane: { enum: [port, centre] }
  Car:
    fields: { id: string, lengthM: { type: number, exclusiveMinimum: 0 }, lane: Lane, note: string }
    optional: [note]
functions:
  lengthOf: { given: { @A: number, @B: { list: Car } }, value: "sum(@B, @C => @C.lengthM) + @A" }
stores:
  deck:
    constants: { limit: 5 }
    state:
      cars: { list: Car, by: id }
      metres: { map: number }
      hold: { maybe: string }
      total: { type: number, maximum: 900, default: 0 }
    derived:
      long: "cars.filter(@D => @D.lengthM > limit).map(@E => ({ id: @E.id }))"
      ordered: "sortBy(cars, @F => @F.lengthM)"
      room: { given: { @G: Lane }, value: "lengthOf(limit, cars.filter(@H => @H.lane === @G))" }
      held: "hold === null ? 0 : hold.length + cars.reduce((@I, @J) => @I + @J.lengthM, 0)"
      isLane: "fits(hold ?? '', 'Lane')"
    actions:
      admit:
        payload: { fields: { lengthM: number, lane: Lane } }
        requires:
          - { let: { @K: "['port', 'centre'].find(@L => @L === payload.lane)" }, otherwise: No lane. }
        let: { @M: "newId()", @N: "limit + now() % 7" }
        steps:
          - append: { to: cars, value: { ...: payload, id: "@M" } }
          - let: { @O: "room(payload.lane) + (metres[@K] ?? 0)" }
          - put: { in: metres, key: "@K", value: "@O + @N" }
          - update: { in: cars, each: @P, where: "@P.lengthM > @N", set: { note: "hold ?? @P.id" } }
          - run: wind.measure
            payload: "cars.filter(@Q => @Q.lengthM > limit).length"
      leave:
        - remove: { from: cars, each: @R, where: "@R.lengthM < limit" }
        - reset: [metres]
  wind:
    value: { type: number, maximum: 50, default: 0 }
    actions:
      measure:
        payload: number
        let: { @S: "payload * 2" }
        steps: [{ set: { value: "@S" } }]
  log:
    state: { count: { type: number, default: 0 } }
    reacts:
      - to: wind.measure
        steps:
          - let: { @T: "@S + payload + count" }
          - set: { count: "@T % 100" }
`.replace(/@([A-T])/g, (_, letter: string) => nameOf(letter));

/** All that may be read as an identifier in the stores of every style. */
async function namesInOutput(): Promise<string[]> {
  const folders = await foldersOf(await modelOf(schemaWith((letter) => `local${letter}`)));
  const words = folders.flatMap(({ files }) =>
    files.flatMap(({ text }) => text.match(/[\p{ID_Start}$_][\p{ID_Continue}$]*/gu) ?? []),
  );
  return [...new Set(words)].sort();
}

/** What the schema itself gives a name to: no local may be called like that. */
const own = new Set(
  'lengthOf deck wind log cars metres hold total limit long ordered room held isLane admit leave measure count value'.split(
    ' ',
  ),
);

/** Each turn gives every name to another local: all of them with `npm run soak`. */
const turns = someOf(
  [...letters].map((_, i) => i),
  1,
);

test.each(turns)(
  'a local of the schema may have any name that generated code uses itself (turn %i)',
  async (turn) => {
    const names = (await namesInOutput()).filter(
      (name) => whyNoName(name) === undefined && !languageNames.has(name) && !own.has(name),
    );
    expect(names.length).toBeGreaterThan(250);
    const groups = Array.from(
      { length: Math.ceil(names.length / letters.length) },
      (_, i) => i * letters.length,
    );
    for (const from of someOf(groups, 8)) {
      const nameOf = (letter: string) => {
        const at = from + ((letters.indexOf(letter) + turn) % letters.length);
        return names[at] ?? `local${letter}`;
      };
      const application = await modelOf(schemaWith(nameOf));
      const { difference } = await compareStores(application, await foldersOf(application), {
        ...unlimited,
        seed: 1,
        steps: 150,
        search: 'random',
      });
      expect([names.slice(from, from + letters.length), difference]).toEqual([
        names.slice(from, from + letters.length),
        undefined,
      ]);
    }
  },
);
