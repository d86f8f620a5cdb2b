import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import type { EmitOptions } from '../src/generation/emit-options.js';
import { styles, type Style } from '../src/base/styles.js';
import type { Application } from '../src/model/application.js';
import { checkSchemas } from '../src/jobs/check.js';
import { generatedInMemory } from '../src/jobs/generate.js';
import type { Admitted, DeckStore, Vehicle } from './by-hand/deck.js';

const folder = '.cache/bench';

export const readRuntime = (file: string): string => readFileSync(`src/generation/${file}`, 'utf8');

/** A schema that has to be fine. */
export async function applicationOf(path: string): Promise<Application> {
  const { application } = await checkSchemas([{ path, text: readFileSync(path, 'utf8') }]);
  if (application === undefined) throw new Error(`${path} has problems`);
  return application;
}

/** Writes the stores of an application, and gives where the entry of each style is. */
export async function generatedEntries(
  application: Application,
  name: string,
  output: Partial<EmitOptions> = {},
): Promise<Readonly<Record<Style, string>>> {
  const folders = await generatedInMemory(application, styles, readRuntime, output);
  const entries = folders.map(({ style, files }) => {
    const to = join(folder, name, style);
    rmSync(to, { recursive: true, force: true });
    for (const { path, text } of files) {
      mkdirSync(dirname(join(to, path)), { recursive: true });
      writeFileSync(join(to, path), text);
    }
    return [style, join(to, 'index.ts')] as const;
  });
  return Object.fromEntries(entries) as Record<Style, string>;
}

interface Outcome {
  readonly status: string;
}

type Watch = (changed: (metres: number) => void) => () => void;

interface DeckActions {
  admit(payload: Admitted): Outcome;
  turn(id: string): Outcome;
  leave(id: string): Outcome;
  setCapacity(metres: number): Outcome;
}

const withActions = (
  deck: DeckActions,
  read: Pick<DeckStore, 'vehicles' | 'freeM' | 'watchFree'>,
): DeckStore => ({
  admit: (payload) => deck.admit(payload).status === 'done',
  turn: (id) => deck.turn(id).status === 'done',
  leave: (id) => deck.leave(id).status === 'done',
  setCapacity: (metres) => deck.setCapacity(metres).status === 'done',
  ...read,
});

interface ReducerDeck {
  readonly dispatch: (action: { type: string; payload: unknown }) => Outcome;
  readonly snapshot: () => { readonly deck: { readonly vehicles: readonly Vehicle[] } };
  readonly whenChanged: (
    read: (state: unknown) => number,
    changed: (metres: number) => void,
  ) => () => void;
  readonly derived: { readonly deck: { readonly freeM: (state: unknown) => number } };
}

interface NodeDeck {
  readonly vehicles: { get(): readonly Vehicle[]; readonly latest: readonly Vehicle[] };
  readonly freeM: {
    get(): number;
    readonly latest: number;
    watch: Watch;
    subscribe(next: (metres: number) => void): { unsubscribe(): void };
  };
}

interface LiveDeck {
  readonly stores: {
    readonly deck: DeckActions & { readonly vehicles: readonly Vehicle[]; readonly freeM: number };
  };
  readonly whenChanged: (read: () => number, changed: (metres: number) => void) => () => void;
}

/** The generated stores of the benchmark's deck, each used as its style is meant to be. */
const adapters = {
  reducer: (created: never): DeckStore => {
    const { dispatch, snapshot, whenChanged, derived } = created as ReducerDeck;
    const act = (type: string) => (payload: unknown) => dispatch({ type, payload });
    const actions = {
      admit: act('deck.admit'),
      turn: act('deck.turn'),
      leave: act('deck.leave'),
      setCapacity: act('deck.setCapacity'),
    };
    return withActions(actions, {
      vehicles: () => snapshot().deck.vehicles,
      freeM: () => derived.deck.freeM(snapshot()),
      watchFree: (changed) => whenChanged(derived.deck.freeM, changed),
    });
  },
  atom: (created: never): DeckStore => {
    const { deck } = (created as { stores: { deck: DeckActions & NodeDeck } }).stores;
    return withActions(deck, {
      vehicles: () => deck.vehicles.get(),
      freeM: () => deck.freeM.get(),
      watchFree: (changed) => deck.freeM.watch(changed),
    });
  },
  proxy: (created: never): DeckStore => {
    const { stores, whenChanged } = created as LiveDeck;
    return withActions(stores.deck, {
      vehicles: () => stores.deck.vehicles,
      freeM: () => stores.deck.freeM,
      watchFree: (changed) => whenChanged(() => stores.deck.freeM, changed),
    });
  },
  observable: (created: never): DeckStore => {
    const { deck } = (created as { stores: { deck: DeckActions & NodeDeck } }).stores;
    return withActions(deck, {
      vehicles: () => deck.vehicles.latest,
      freeM: () => deck.freeM.latest,
      watchFree: (changed) => {
        const subscription = deck.freeM.subscribe(changed);
        return () => {
          subscription.unsubscribe();
        };
      },
    });
  },
};

/** Makes a deck of the benchmark. */
export type MakeDeck = (options: { newId: () => string; guard: boolean }) => DeckStore;

/** The generated decks, bundled as an application would bundle them. */
export async function generatedDecks(
  name = 'deck',
  output: Partial<EmitOptions> = {},
): Promise<Readonly<Record<Style, MakeDeck>>> {
  const entries = await generatedEntries(
    await applicationOf('bench/by-hand/deck.stores.yaml'),
    name,
    output,
  );
  const made = await Promise.all(
    styles.map(async (style): Promise<[Style, MakeDeck]> => {
      const outfile = resolve(folder, `${name}-${style}.mjs`);
      await build({ entryPoints: [entries[style]], outfile, bundle: true, format: 'esm' });
      const { createStores } = (await import(pathToFileURL(outfile).href)) as {
        createStores: (options: object) => never;
      };
      return [style, (options) => adapters[style](createStores(options))];
    }),
  );
  return Object.fromEntries(made) as Record<Style, MakeDeck>;
}
