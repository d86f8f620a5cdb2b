import { styles, type Style } from '../src/base/styles.js';
import { compareStores } from '../src/jobs/compare.js';
import { generatedInMemory, generateStyle } from '../src/jobs/generate.js';
import type { GeneratedFolder } from '../src/participants/generated-participant.js';
import {
  applicationOf,
  generatedDecks,
  generatedEntries,
  readRuntime,
  type MakeDeck,
} from './generated.js';
import { effort } from './effort.js';
import { comparingRates, smallScope, ways, type Rate, type Rates } from './comparing.js';
import { cpuToCheck, cpuToGenerate } from './scaling.js';
import { sizeOf } from './size.js';
import { logCosts, replayCosts } from './logs.js';
import { surveying } from './survey.js';
import { byHand, median, ratio, Rig, sizes, watcherCounts } from './speed.js';

function print(cells: readonly (string | number)[]): void {
  const [first = '', ...others] = cells.map(String);
  console.log([first.padEnd(26), ...others.map((cell) => cell.padStart(13))].join(''));
}

/** Rounds of each measurement: all candidates take turns in each, so that noise meets all alike. */
const { rounds, sampleMs } = effort;

/** Prints how fast generated decks are against those written by hand. */
function againstByHand(decks: Readonly<Record<Style, MakeDeck>>): void {
  print(['items, watchers', ...styles]);
  const columns = styles.map(() => [] as number[]);
  for (const items of sizes)
    for (const watchers of watcherCounts) {
      const cells = styles.map((style, i) => {
        const guard = style === 'proxy';
        const generated = new Rig(decks[style], guard, items, watchers);
        const written = new Rig(byHand[style], guard, items, watchers);
        const cell = ratio(generated, written, rounds, sampleMs);
        if (watchers > 0 && (generated.told === 0 || written.told === 0))
          throw new Error('no watcher was told');
        columns[i]?.push(cell);
        return cell.toFixed(2);
      });
      print([`${items}, ${watchers}`, ...cells]);
    }
  print(['median', ...columns.map((cells) => median(cells).toFixed(2))]);
}

async function speedOfStores(): Promise<void> {
  console.log(
    `Actions per second: generated store / store written by hand in the same style (median of ${rounds} rounds;\n` +
      'four kinds of action in turn; snapshots are frozen in the proxy style only, as by hand).',
  );
  const decks = await generatedDecks();
  againstByHand(decks);
  console.log('\nThe same without checks (--checks never).');
  againstByHand(await generatedDecks('deck-never', { checks: 'never' }));

  console.log(
    '\nThe generated proxy store, snapshots frozen, against the generated reducer store.',
  );
  print(['items', 'ratio']);
  for (const items of sizes) {
    const [proxy, reducer] = (['proxy', 'reducer'] as const).map(
      (style) => new Rig(decks[style], style === 'proxy', items, 10),
    );
    if (proxy !== undefined && reducer !== undefined)
      print([items, ratio(proxy, reducer, rounds, sampleMs).toFixed(2)]);
  }
}

async function speedOfCompare(): Promise<void> {
  const application = await applicationOf('examples/skerry/ferry.stores.yaml');
  const folders = await generatedInMemory(application, styles, readRuntime);
  console.log(
    '\nSteps per second of compare on the ferry schema, against the reference alone (1.00).',
  );
  const rate = async (some: readonly GeneratedFolder[]) => {
    const options = {
      seed: 3,
      steps: effort.compare.steps,
      clock: () => performance.now(),
      until: Infinity,
    };
    const { steps, tookMs } = await compareStores(application, some, options);
    return (steps / tookMs) * 1000;
  };
  await rate(folders);
  const candidates = [[], ...folders.map((folder) => [folder]), folders];
  const rates = candidates.map(() => [] as number[]);
  for (let round = 0; round < effort.compare.rounds; round++) {
    for (const [i, some] of candidates.entries()) rates[i]?.push(await rate(some));
  }
  const alone = median(rates[0] ?? []);
  print(['participants', 'steps/s', 'ratio']);
  for (const [i, some] of candidates.entries()) {
    const name = ['reference', ...some.map((folder) => folder.name)].join(' + ');
    const steps = median(rates[i] ?? []);
    print([some.length === 4 ? 'all five' : name, Math.round(steps), (steps / alone).toFixed(2)]);
  }
}

async function sizeOfStores(): Promise<void> {
  console.log(
    '\nBytes as a server sends them (minified, gzipped): the ferry, the same by hand without the promises, its lines;\n' +
      'the same without checks; the deck of the benchmark.',
  );
  print(['style', 'ferry', 'by hand', 'times', 'ferry lines', 'unchecked', 'deck']);
  const application = await applicationOf('examples/skerry/ferry.stores.yaml');
  const ferry = await generatedEntries(application, 'ferry-size');
  const unchecked = await generatedEntries(application, 'ferry-unchecked', { checks: 'never' });
  const deck = await generatedEntries(
    await applicationOf('bench/by-hand/deck.stores.yaml'),
    'deck-size',
  );
  for (const style of styles) {
    const gzipped = async (entry: string) => (await sizeOf(entry)).gzipped;
    const [own, hand] = [
      await gzipped(ferry[style]),
      await gzipped(`bench/by-hand/ferry/${style}.ts`),
    ];
    const files = await generateStyle(application, style, {
      version: '0.0.0',
      schema: 'ferry.stores.yaml',
      readRuntime,
    });
    const lines = files.reduce((sum, { text }) => sum + text.split('\n').length - 1, 0);
    print([
      style,
      own,
      hand,
      (own / hand).toFixed(1),
      lines,
      await gzipped(unchecked[style]),
      await gzipped(deck[style]),
    ]);
  }
}

async function scaling(): Promise<void> {
  console.log(
    '\nCPU time of check: many stores, each with 10 actions and 5 derived values, against a tenth of them.',
  );
  const [less = 1, more = 1] = effort.stores.check;
  await cpuToCheck(less);
  const [few, all]: [number[], number[]] = [[], []];
  for (let round = 0; round < 3; round++) {
    few.push(await cpuToCheck(less));
    all.push(await cpuToCheck(more));
  }
  print([`${less} stores`, `${more} stores`, 'first time', 'times']);
  print([
    `${Math.round(median(few))} ms`,
    `${Math.round(median(all))} ms`,
    `${Math.round(all[0] ?? NaN)} ms`,
    (median(all) / median(few)).toFixed(1),
  ]);

  console.log(
    '\nCPU time of generating all four styles, formatted: many stores against a tenth of them.',
  );
  const [short = 1, long = 1] = effort.stores.generate;
  const [some, many] = [await cpuToGenerate(short), await cpuToGenerate(long)];
  print([`${short} stores`, `${long} stores`, 'times']);
  print([`${Math.round(some)} ms`, `${Math.round(many)} ms`, (many / some).toFixed(1)]);
}

async function waysToCompare(): Promise<void> {
  const application = await applicationOf('examples/skerry/ferry.stores.yaml');
  console.log(
    '\nThe same check, ferry schema, four stores and the reference: compare, a loop by hand, and a property-testing\n' +
      'library. Steps per second, and changes: those of them that changed the state, which cost most.',
  );
  const rates = (await comparingRates(application, effort.ways.steps, effort.ways.rounds)).slice(1);
  const middle = (way: keyof Rates, part: keyof Rate) =>
    median(rates.map((rate) => rate[way][part]));
  print(['way', 'steps/s', 'compare is', 'changes/s', 'compare is']);
  for (const way of ways)
    print([
      way,
      ...(['steps', 'changes'] as const).flatMap((part) => [
        Math.round(middle(way, part)),
        (middle('compare', part) / middle(way, part)).toFixed(2),
      ]),
    ]);

  const { seconds } = effort.ways;
  print([`small scope in ${seconds} s`, 'transitions']);
  print(['one worker', await smallScope(application, seconds, 1)]);
}

async function speedOfSurvey(): Promise<void> {
  const count = effort.survey;
  console.log(
    `\nA survey of ${count} modules of some 90 lines, a third of which use the old store, against the compiler alone (1.00):\n` +
      'the same modules parsed and bound, and nothing asked of them.',
  );
  const { compilerMs, surveyMs, places, megabytes } = await surveying(count);
  print(['compiler', 'survey', 'ratio', 'places', 'memory of both']);
  print([
    `${Math.round(compilerMs)} ms`,
    `${Math.round(surveyMs)} ms`,
    (surveyMs / compilerMs).toFixed(2),
    places,
    `${Math.round(megabytes)} MB`,
  ]);
}

async function speedOfLogs(): Promise<void> {
  console.log(
    '\nActions per second: with a log in memory / without, by items (ten watchers; four kinds of action in turn).',
  );
  print(['items', ...styles]);
  for (const items of sizes) {
    const costs = await logCosts(items, rounds, sampleMs);
    print([items, ...styles.map((style) => costs[style].toFixed(2))]);
  }
  const lines = effort.replay;
  console.log(
    `\nA log of ${lines} actions, replayed with one participant, against the same actions in a loop that reads the state after each:`,
  );
  print(['participant', 'loop', 'replay', 'ratio']);
  for (const { participant, loopMs, replayMs } of await replayCosts(lines))
    print([
      participant,
      `${Math.round(loopMs)} ms`,
      `${Math.round(replayMs)} ms`,
      (loopMs / replayMs).toFixed(2),
    ]);
}

const parts: Readonly<Record<string, () => Promise<void>>> = {
  stores: speedOfStores,
  size: sizeOfStores,
  compare: speedOfCompare,
  ways: waysToCompare,
  scale: scaling,
  survey: speedOfSurvey,
  logs: speedOfLogs,
};
const wanted = process.argv.slice(2).filter((name) => name !== '--small');
const odd = wanted.find((name) => !Object.hasOwn(parts, name));
if (odd !== undefined) {
  console.error(
    `bench: there is no part '${odd}'. The parts are: ${Object.keys(parts).join(', ')}.`,
  );
  process.exit(2);
}
for (const [name, run] of Object.entries(parts))
  if (wanted.length === 0 || wanted.includes(name)) await run();
