import { describe, expect, test } from '@jest/globals';
import { generateStyle } from '../../src/pipeline.js';
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

import { isBerthThrowLinePayload } from "./checks.js";
import type { AppAction, Tools } from "./reduce.js";
import { accept, refuse } from "./transaction.js";
import type { AppState, BerthState } from "./types.js";

/** What can happen to 'berth'. */
export type BerthAction =
  | { readonly type: "berth.throwLine"; readonly payload: string }
  | { readonly type: "berth.lowerRamp" };

/** Makes the actions of 'berth'. */
export const berthActions = {
  /** A line goes ashore */
  throwLine: (payload: string): BerthAction => ({
    type: "berth.throwLine",
    payload,
  }),
  lowerRamp: (): BerthAction => ({ type: "berth.lowerRamp" }),
};

/** The next state of 'berth'. Pure: what it asks of the environment comes in through the tools. */
export function reduceBerth(
  berth: BerthState,
  action: AppAction,
  app: AppState,
  tools: Tools,
): BerthState {
  switch (action.type) {
    case "berth.throwLine":
      return throwLine(
        berth,
        accept(action.payload, isBerthThrowLinePayload, "berth.throwLine"),
      );
    case "berth.lowerRamp":
      return lowerRamp(berth, app, tools);
    default:
      return berth;
  }
}

/** A line goes ashore */
function throwLine(berth: BerthState, payload: string): BerthState {
  if (berth.ramp) refuse("The ramp is down.", "berth.throwLine.requires[0]");

  return { ...berth, lines: [...berth.lines, payload] };
}

function lowerRamp(
  berth: BerthState,
  app: AppState,
  { select }: Tools,
): BerthState {
  if (!select.berth.moored.within(app))
    refuse("She is not moored.", "berth.lowerRamp.requires[0]");

  return { ...berth, ramp: true };
}
`,
  atom: `// Where the ferry lies

import { isBerthThrowLinePayload } from "./checks.js";
import { initialBerth } from "./initial.js";
import type { Graph, GraphNode } from "./runtime.js";
import { accept, refuse, type Outcome } from "./transaction.js";

/** Where the ferry lies */
export interface Berth {
  readonly ramp: GraphNode<boolean>;
  readonly lines: GraphNode<readonly string[]>;
  readonly moored: GraphNode<boolean>;
  /** A line goes ashore */
  readonly throwLine: (payload: string) => Outcome;
  readonly lowerRamp: () => Outcome;
}

export function createBerth(graph: Graph): Berth {
  const ramp = graph.atom("berth.ramp", initialBerth.ramp);
  const lines = graph.atom("berth.lines", initialBerth.lines);
  const moored = graph.derived(
    "berth.moored",
    (get): boolean => get(lines).length > 1 && !get(ramp),
  );

  const throwLine = (input: string) =>
    graph.act("berth.throwLine", (tx) => {
      const payload = accept(input, isBerthThrowLinePayload, "berth.throwLine");
      if (tx.get(ramp))
        refuse("The ramp is down.", "berth.throwLine.requires[0]");

      tx.set(lines, [...tx.get(lines), payload]);
    });

  const lowerRamp = () =>
    graph.act("berth.lowerRamp", (tx) => {
      if (!tx.get(moored))
        refuse("She is not moored.", "berth.lowerRamp.requires[0]");

      tx.set(ramp, true);
    });

  return { ramp, lines, moored, throwLine, lowerRamp };
}
`,
  proxy: `// Where the ferry lies

import { isBerthThrowLinePayload } from "./checks.js";
import type { Live } from "./runtime.js";
import { accept, refuse } from "./transaction.js";
import type { App, Drafts } from "./views.js";

/** How the derived values of 'berth' are computed. */
export const berthDerived = {
  moored: ({ berth }: App): boolean => berth.lines.length > 1 && !berth.ramp,
};

/** Where the ferry lies */
export const createBerth = (live: Live<App, Drafts>) =>
  live.store("berth", {
    /** A line goes ashore */
    throwLine: (input: string) =>
      live.act("berth.throwLine", ({ berth }) => {
        const payload = accept(
          input,
          isBerthThrowLinePayload,
          "berth.throwLine",
        );
        if (berth.ramp)
          refuse("The ramp is down.", "berth.throwLine.requires[0]");

        berth.lines.push(payload);
      }),
    lowerRamp: () =>
      live.act("berth.lowerRamp", ({ berth }) => {
        if (!berth.moored)
          refuse("She is not moored.", "berth.lowerRamp.requires[0]");

        berth.ramp = true;
      }),
  });

export type Berth = ReturnType<typeof createBerth>;
`,
  observable: `// Where the ferry lies

import { isBerthThrowLinePayload } from "./checks.js";
import { initialBerth } from "./initial.js";
import type { Hub, Stream } from "./runtime.js";
import { accept, refuse, type Outcome } from "./transaction.js";

/** Where the ferry lies */
export interface Berth {
  readonly ramp: Stream<boolean>;
  readonly lines: Stream<readonly string[]>;
  readonly moored: Stream<boolean>;
  /** A line goes ashore */
  readonly throwLine: (payload: string) => Outcome;
  readonly lowerRamp: () => Outcome;
}

export function createBerth(hub: Hub): Berth {
  const ramp = hub.source("berth.ramp", initialBerth.ramp);
  const lines = hub.source("berth.lines", initialBerth.lines);
  const moored = hub.combine(
    "berth.moored",
    () => [lines, ramp],
    (lines, ramp): boolean => lines.length > 1 && !ramp,
  );

  const throwLine = (input: string) =>
    hub.act("berth.throwLine", (change) => {
      const payload = accept(input, isBerthThrowLinePayload, "berth.throwLine");
      if (change.latest(ramp))
        refuse("The ramp is down.", "berth.throwLine.requires[0]");

      change.next(lines, [...change.latest(lines), payload]);
    });

  const lowerRamp = () =>
    hub.act("berth.lowerRamp", (change) => {
      if (!change.latest(moored))
        refuse("She is not moored.", "berth.lowerRamp.requires[0]");

      change.next(ramp, true);
    });

  return { ramp, lines, moored, throwLine, lowerRamp };
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
    const text = files.find(({ path }) => path === 'berth.store.ts')?.text ?? '';
    const [header, ...rest] = text.split('\n\n');
    expect(header).toMatch(
      /^\/\/ Generated by Leeshore 0\.0\.0 from small\.stores\.yaml \(\w+ style\)\. Change the schema, not this file\. Checksum [0-9a-f]{16}\.$/,
    );
    expect(rest.join('\n\n')).toBe(golden[style]);
  });
});
