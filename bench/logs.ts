import { memoryLog } from '../src/generation/runtime/logs.js';
import { styles, type Style } from '../src/base/styles.js';
import { referenceParticipant } from '../src/meaning/reference.js';
import { generatedParticipant } from '../src/participants/generated-participant.js';
import { namesOf } from '../src/participants/names.js';
import type { Json } from '../src/base/json.js';
import { readLog } from '../src/logs/log/read-log.js';
import type { Application } from '../src/model/application.js';
import type { Participant } from '../src/model/participant.js';
import { generatedInMemory } from '../src/jobs/generate.js';
import { Replay } from '../src/logs/replay/replay.js';
import { applicationOf, generatedDecks, readRuntime } from './generated.js';
import { ratio, Rig } from './speed.js';

/** How fast stores are that log into memory, against the same without a log. */
export async function logCosts(
  items: number,
  samples: number,
  sampleMs: number,
): Promise<Readonly<Record<Style, number>>> {
  const [plain, logging] = [
    await generatedDecks('deck-plain'),
    await generatedDecks('deck-log', { log: true }),
  ];
  const costs = styles.map((style) => {
    const make = (options: { newId: () => string; guard: boolean }) =>
      logging[style]({ ...options, log: memoryLog({ limit: 1000 }) } as typeof options);
    const one = new Rig(make, false, items, 10);
    const other = new Rig(plain[style], false, items, 10);
    return [style, ratio(one, other, samples, sampleMs)] as const;
  });
  return Object.fromEntries(costs) as Record<Style, number>;
}

/** An action of a session. */
interface Done {
  readonly store: string;
  readonly action: string;
  readonly payload?: Json;
}

/** How fast a log is replayed with one participant, against the same actions sent in a loop. */
export interface ReplayCost {
  readonly participant: string;
  readonly loopMs: number;
  readonly replayMs: number;
}

export async function replayCosts(lines: number): Promise<readonly ReplayCost[]> {
  const application = await applicationOf('examples/skerry/ferry.stores.yaml');
  const [logging] = await generatedInMemory(application, ['reducer'], readRuntime, { log: true });
  const files = logging?.files ?? [];
  const names = namesOf(application);
  const texts: string[] = [];
  const session: Done[] = [];
  const writer = generatedParticipant('reducer', 'reducer', files, names);
  const log = { write: (entry: object) => void texts.push(JSON.stringify(entry)), clock: () => 0 };
  const running = writer.create({ ...environment(), log } as ReturnType<typeof environment>);
  const draw = fractions(7);
  for (let i = 0; i < lines; i++) {
    const { store, action, payload } = nextOf(running.read(), draw);
    session.push({ store, action, ...(payload !== undefined && { payload }) });
    running.send(store, action, payload);
  }
  const folders = await generatedInMemory(application, styles, readRuntime, { begin: 'state' });
  const participants = [
    referenceParticipant(application),
    ...folders.map((one) => generatedParticipant(one.name, one.style, one.files, names)),
  ];
  const costs: ReplayCost[] = [];
  for (const participant of participants) {
    const loops = [loopMs(participant, session), loopMs(participant, session)];
    const replays = [
      await replayMs(application, participant, texts),
      await replayMs(application, participant, texts),
    ];
    costs.push({
      participant: participant.name,
      loopMs: Math.min(...loops),
      replayMs: Math.min(...replays),
    });
  }
  return costs;
}

function environment() {
  let ids = 0;
  return {
    newId: () => `v${(ids += 1)}`,
    now: () => 0,
    random: () => 0.5,
    onProblem: () => undefined,
  };
}

function fractions(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

/** What is done next at the terminal, which never holds more than fifty cars. */
function nextOf(state: Readonly<Record<string, unknown>>, draw: () => number): Done {
  const { vehicles } = state['deck'] as { readonly vehicles: readonly { readonly id: string }[] };
  const car = vehicles[Math.floor(draw() * vehicles.length)]?.id ?? '';
  const of = draw();
  const deck = (action: string, payload?: Json): Done =>
    payload === undefined ? { store: 'deck', action } : { store: 'deck', action, payload };
  if (of < 0.4 && vehicles.length < 50)
    return deck('admit', { plate: 'SK 4', lengthM: 4, lane: 'port' });
  if (of < 0.6) return deck('letFirst', car);
  if (of < 0.75) return deck('remark', { id: car, note: `n${Math.floor(of * 1000)}` });
  if (of < 0.97) return { store: 'wind', action: 'measure', payload: Math.floor(of * 60) };
  return deck('clear');
}

function loopMs(participant: Participant, session: readonly Done[]): number {
  const running = participant.create(environment());
  const start = performance.now();
  for (const { store, action, payload } of session) {
    running.send(store, action, payload);
    running.read();
  }
  return performance.now() - start;
}

async function replayMs(
  application: Application,
  participant: Participant,
  texts: readonly string[],
): Promise<number> {
  const start = performance.now();
  const replay = new Replay(application, [participant]);
  const size = 5000;
  const chunks = Array.from(
    { length: Math.ceil(texts.length / size) },
    (_, i) => `${texts.slice(i * size, (i + 1) * size).join('\n')}\n`,
  );
  for await (const entries of readLog(chunks)) await replay.feed(entries);
  const { participants } = await replay.end();
  if (participants.some(({ mismatches }) => mismatches.length > 0))
    throw new Error('the log was not replayed');
  return performance.now() - start;
}
