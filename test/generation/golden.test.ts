import { describe, expect, test } from '@jest/globals';
import { generateStyle } from '../../src/jobs/generate.js';
import { allStyles, modelOf, readRuntime } from '../helpers.js';

const schema = `leeshore: 1
stores:
  berth:
    about: Where the ferry lies
    state:
      ramp: { type: boolean, default: false }
      lines: { list: string }
    derived:
      moored: "lines.length > 1 && !ramp"
    actions:
      throwLine:
        about: A line goes ashore
        payload: { type: string, minLength: 1 }
        requires:
          - { that: "!ramp", otherwise: The ramp is down. }
        steps:
          - append: { to: lines, value: "payload" }
      lowerRamp:
        requires:
          - { that: "moored", otherwise: She is not moored. }
        steps:
          - set: { ramp: true }
`;

/** What the store file of each style is, to the letter: read a change here as a reviewer would. */
const golden = {
  reducer: `// Where the ferry lies

import type { DerivedBy } from "../runtime/derived.js";
import type { ReducingStore } from "../runtime/reducer.js";
import { refuse } from "../runtime/transaction.js";
import type { App, Around, BerthDerived, BerthState } from "../types.js";

/** Makes the actions of 'berth'. */
export const berthActions = {
  /** A line goes ashore */
  throwLine: (payload: string) =>
    ({ type: "berth.throwLine", payload }) as const,
  lowerRamp: () => ({ type: "berth.lowerRamp" }) as const,
};

export type BerthAction = ReturnType<
  (typeof berthActions)[keyof typeof berthActions]
>;

const initial: BerthState = { ramp: false, lines: [] };

/** A line goes ashore */
function throwLine(berth: BerthState, { payload }: Around<string>): BerthState {
  if (berth.ramp) refuse("The ramp is down.");
  return { ...berth, lines: [...berth.lines, payload] };
}

function lowerRamp(berth: BerthState, { app, derived }: Around): BerthState {
  if (!derived.berth.moored(app)) refuse("She is not moored.");
  return { ...berth, ramp: true };
}

const derived: DerivedBy<App, BerthDerived> = {
  moored: ({ berth }) => berth.lines.length > 1 && !berth.ramp,
};

export const berthStore = {
  initial,
  actions: { throwLine, lowerRamp },
  derived,
} satisfies ReducingStore;
`,
  atom: `// Where the ferry lies

import { refuse } from "../runtime/transaction.js";
import type { Around } from "../types.js";

export function createBerth({ graph }: Around) {
  const ramp = graph.atom("berth.ramp", false);
  const lines = graph.atom<readonly string[]>("berth.lines", []);
  const moored = graph.derived(
    "berth.moored",
    () => lines.get().length > 1 && !ramp.get(),
  );

  return {
    ...graph.views({ ramp, lines, moored }),

    /** A line goes ashore */
    throwLine: graph.action("berth.throwLine", (payload: string) => {
      if (ramp.get()) refuse("The ramp is down.");
      lines.update((list) => [...list, payload]);
    }),

    lowerRamp: graph.action("berth.lowerRamp", () => {
      if (!moored.get()) refuse("She is not moored.");
      ramp.set(true);
    }),
  };
}
`,
  proxy: `// Where the ferry lies

import type { DerivedBy } from "../runtime/derived.js";
import type { LiveStore } from "../runtime/proxies.js";
import { refuse } from "../runtime/transaction.js";
import type {
  App,
  Around,
  BerthDerived,
  BerthState,
  Editable,
} from "../types.js";

const initial: BerthState = { ramp: false, lines: [] };

const actions = {
  /** A line goes ashore */
  throwLine({ berth }: Editable, { payload }: Around<string>) {
    if (berth.ramp) refuse("The ramp is down.");
    berth.lines.push(payload);
  },

  lowerRamp({ berth }: Editable) {
    if (!berth.moored) refuse("She is not moored.");
    berth.ramp = true;
  },
};

const derived: DerivedBy<App, BerthDerived> = {
  moored: ({ berth }) => berth.lines.length > 1 && !berth.ramp,
};

export const berthStore = {
  initial,
  actions,
  derived,
} satisfies LiveStore;
`,
  observable: `// Where the ferry lies

import { refuse } from "../runtime/transaction.js";
import type { Around, BerthState } from "../types.js";

const initial: BerthState = { ramp: false, lines: [] };

export function createBerth({ streams, latest }: Around) {
  /** A line goes ashore */
  const throwLine = streams.action<string>("berth.throwLine");
  const lowerRamp = streams.action("berth.lowerRamp");

  const berth = streams.accumulate<BerthState>("berth", initial, [
    throwLine.map((payload) => (berth) => {
      if (berth.ramp) refuse("The ramp is down.");
      return { ...berth, lines: [...berth.lines, payload] };
    }),
    lowerRamp.map(() => (berth) => {
      if (!latest.berth.moored) refuse("She is not moored.");
      return { ...berth, ramp: true };
    }),
  ]);

  const ramp = berth.map((berth) => berth.ramp);
  const lines = berth.map((berth) => berth.lines);
  const moored = streams.combine(
    () => [lines, ramp] as const,
    (lines, ramp) => lines.length > 1 && !ramp,
  );

  return streams.store("berth", { ramp, lines, moored, throwLine, lowerRamp });
}
`,
} as const;

describe.each(allStyles)('the %s style', (style) => {
  test('writes this store', async () => {
    const application = await modelOf(schema);
    const files = await generateStyle(application, style, {
      version: '0.0.0',
      schema: 'small.stores.yaml',
      readRuntime,
    });
    const text = files.find(({ path }) => path === 'stores/berth.ts')?.text ?? '';
    const [header, ...rest] = text.split('\n\n');
    expect(header).toMatch(
      /^\/\* eslint-disable \*\/\n\/\/ Generated by Leeshore 0\.0\.0 from small\.stores\.yaml \(\w+ style\)\. Change the schema, not this file\. Checksum [0-9a-f]{16}\.$/,
    );
    expect(rest.join('\n\n')).toBe(golden[style]);
  });
});
