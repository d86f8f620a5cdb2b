// Writes the logs of the demo data: a morning at Skerry Sound, as the generated stores log it, and another as the old
// terminal did. Both come from a seed: run again, they are the same.
import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { setImmediate } from 'node:timers';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const source = 'examples/skerry';
const work = '.cache/logs';
const start = Date.UTC(2031, 4, 2, 5, 40);
rmSync(work, { recursive: true, force: true });
mkdirSync(`${source}/logs`, { recursive: true });

/** Fractions from a seed. */
function fractions(seed) {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

const names = ['Inga', 'Tor', 'Maren'];
const lanes = ['port', 'centre', 'starboard'];

/** Who works at the terminal: what they do next depends on what they see. */
function crew(random) {
  const pick = (list) => list[Math.floor(random() * list.length)];
  let plates = 100;
  return {
    pick,
    minutes: (least, most) => Math.round((least + random() * (most - least)) * 60_000),
    car: () => ({
      plate: `SK ${(plates += 1 + Math.floor(random() * 7))}`,
      lengthM: pick([3.5, 4, 4.5, 5, 7.5, 12]),
      lane: pick(lanes),
    }),
  };
}

/** A clock that goes on when it is told to, and timers that go off by it. */
function world() {
  let now = start;
  const timers = [];
  const rest = () => new Promise((resume) => setImmediate(resume));
  return {
    now: () => now,
    rest,
    timers: {
      setTimeout: (run, ms) => {
        const timer = { run, due: now + ms };
        timers.push(timer);
        return timer;
      },
      clearTimeout: (timer) => {
        if (timers.includes(timer)) timers.splice(timers.indexOf(timer), 1);
      },
    },
    async pass(ms) {
      const end = now + ms;
      for (;;) {
        const [first] = [...timers].sort((a, b) => a.due - b.due);
        if (first === undefined || first.due > end) break;
        timers.splice(timers.indexOf(first), 1);
        now = Math.max(now, first.due);
        first.run();
        await rest();
      }
      now = end;
    },
  };
}

const crossings = [
  { id: 'c1', to: 'Holm', leaves: '06:30', free: 9 },
  { id: 'c2', to: 'Vik', leaves: '08:00', free: 14 },
  { id: 'c3', to: 'Holm', leaves: '09:30', free: 12 },
];

/** The morning, with the stores that `generate --log` wrote. */
async function morning() {
  const made = spawnSync(
    process.execPath,
    [
      resolve('bin/leeshore.js'),
      ...['generate', `${source}/harbour.stores.yaml`, '--style', 'atom', '--log'],
      ...['--language', 'js', '--out', work],
    ],
    { stdio: ['ignore', 'ignore', 'inherit'] },
  );
  if (made.status !== 0) process.exit(made.status ?? 3);
  const module = (path) => import(pathToFileURL(resolve(work, 'atom', path)).href);
  const { createStores, memoryLog } = await module('index.js');
  const { tariffStore } = await module('stores/tariff.js');
  const random = fractions(20310502);
  const { pick, minutes, car } = crew(random);
  const { now, rest, timers, pass } = world();
  let [ids, asked] = [0, 0];
  const answers = {
    /** The office is slow at first, and does not know a day once. */
    async crossingsOn(day) {
      const number = (asked += 1);
      await new Promise((resume) => timers.setTimeout(resume, number === 1 ? 900 : 180));
      if (number === 2) throw Object.assign(new Error('Bad gateway'), { status: 502 });
      return day === 'today' ? crossings : crossings.map((one) => ({ ...one, free: 20 }));
    },
    async book({ crossing }) {
      await new Promise((resume) => timers.setTimeout(resume, 400));
      if (crossing === 'c3') throw { status: 409 };
      return `B-${200 + (asked += 1)}`;
    },
    rename: async () => undefined,
    keep: async () => undefined,
    async *delays() {
      await new Promise((resume) => timers.setTimeout(resume, 3_600_000));
      yield { crossing: 'c2', minutes: 10 };
      await new Promise((resume) => timers.setTimeout(resume, 1_800_000));
      yield { crossing: 'c2', minutes: 25 };
      await new Promise(() => undefined);
    },
  };
  const mast = {
    speed: async () =>
      Math.round((7 + 5 * Math.sin((now() - start) / 2_000_000) + random() * 9) * 10) / 10,
  };
  const log = memoryLog({ clock: now, every: 50, instance: 'desk 1' });
  const { stores, state, attach } = createStores({
    log,
    now,
    timers,
    newId: () => `v${(ids += 1)}`,
    random,
    storage: undefined,
    services: { office: answers, mast },
  });
  const { deck, desk, berth, plan, timetable, settings } = stores;
  deck.freeM.watch(() => undefined);
  deck.vehicles.watch(() => undefined);
  timetable.line.watch(() => undefined);
  deck.full.watch((isFull) => {
    if (isFull) stores.notices.say('The deck is full.');
  });
  const waiting = () => state.get().deck.vehicles.filter(({ boarded }) => !boarded);

  settings.preferLane('centre');
  timetable.load('yesterday');
  timetable.load('tomorrow');
  await pass(300);
  timetable.load('today');
  await pass(60_000);
  timetable.load('today');
  await pass(20_000);
  desk.signIn({ name: 'Inga', rank: 'mate' });
  berth.moor(2);
  for (const trip of ['06:30', '08:00', '09:30']) {
    for (const lane of [...lanes, 'port'].slice(0, 2 + (trip === '08:00' ? 2 : 0))) {
      plan.callLane(lane);
      await pass(minutes(0.1, 0.6));
    }
    if (trip === '08:00') {
      plan.undo();
      await pass(2000);
      plan.undo();
      plan.redo();
      for (const note of ['l', 'lor', 'lorries ', 'lorries first']) {
        plan.write(note);
        await pass(180);
      }
    }
    for (let i = 0; i < 9; i++) {
      await pass(minutes(0.3, 3));
      deck.admit(car());
      if (i % 4 === 2)
        timetable.book({ crossing: trip === '09:30' ? 'c3' : 'c2', cars: 1 + (i % 3) });
    }
    const [first, second] = waiting();
    if (first !== undefined)
      deck.rename({ id: first.id, plate: ` ${first.plate.toLowerCase()} a` });
    if (second !== undefined) deck.remark({ id: second.id, note: 'ice on board' });
    deck.admit({ plate: '', lengthM: 4, lane: 'port' });
    if (trip === '08:00') attach(tariffStore);
    for (const { id } of waiting()) {
      await pass(minutes(0.1, 0.5));
      if (random() < 0.15) deck.turnAway(id);
      else deck.board(id);
    }
    deck.board('v99');
    if (trip === '06:30') deck.holdFor('fog');
    deck.admit(car());
    await pass(minutes(1, 3));
    deck.holdFor(null);
    deck.depart();
    await pass(minutes(4, 9));
    if (trip !== '09:30') desk.relieve({ name: pick(names), rank: 'master' });
  }
  deck.stretch('abc');
  deck.stretch('260');
  timetable.load('tomorrow');
  await pass(50);
  timetable.leave();
  berth.castOff();
  await pass(5000);
  desk.signOut();
  await rest();
  writeFileSync(`${source}/logs/morning.log.jsonl`, log.text());
  return log.entries().length;
}

/** A morning of the old terminal, with the ten lines that write a log of it. */
async function oldMorning() {
  await build({
    entryPoints: [`${source}/old/terminal-with-log.ts`],
    outfile: `${work}/old.mjs`,
    bundle: true,
    format: 'esm',
    logLevel: 'warning',
  });
  const { terminalWithLog } = await import(pathToFileURL(resolve(work, 'old.mjs')).href);
  const random = fractions(7);
  const { pick, car } = crew(random);
  let [ids, now] = [0, start];
  const lines = [];
  const old = terminalWithLog(
    () => `n${(ids += 1)}`,
    () => (now += 1000 * Math.ceil(random() * 400)),
    (line) => lines.push(line),
  );
  old.takeOver({ name: 'Inga', rank: 'mate' });
  old.makeFast(2);
  for (let trip = 1; trip <= 4; trip++) {
    for (let i = 0; i < 6; i++) {
      const { plate, lengthM, lane } = car();
      old.arrive(plate, lengthM, lane);
      if (i % 3 === 1) old.gust(Math.round(random() * 170) / 10);
    }
    const [first] = old.cars.filter(({ state }) => state === 'waiting');
    if (first) old.setPlate(first.number, ` ${first.plate.toLowerCase()} `);
    for (const { number } of [...old.cars]) if (random() < 0.7) old.driveOn(number);
    old.driveOnAll(pick(lanes));
    old.sail();
    if (trip === 2) old.measureDeck('260');
    if (trip === 3) old.relieve({ name: 'Tor', rank: 'master' });
  }
  old.hold('fog');
  old.arrive('SK 900', 4, 'port');
  old.hold(null);
  old.letGo();
  old.goOff();
  writeFileSync(`${source}/logs/old.log.jsonl`, `${lines.join('\n')}\n`);
  return lines.length;
}

/** Half an hour of the old timetable, as what is recorded of it: requests, a slow office, one that is down. */
async function oldOffice() {
  await build({
    entryPoints: [`${source}/old/office-with-log.ts`],
    outfile: `${work}/office.mjs`,
    alias: { 'leeshore/record': './dist/record.js' },
    bundle: true,
    format: 'esm',
    logLevel: 'warning',
  });
  const { officeWithLog } = await import(pathToFileURL(resolve(work, 'office.mjs')).href);
  const { now, rest, timers, pass } = world();
  Object.assign(globalThis, timers);
  /** What the office answers, request by request: after how long, and with what. */
  const answers = [
    [900, 200, crossings],
    [180, 502, { status: 502 }],
    [180, 200, crossings.slice(1)],
    [400, 200, crossings],
    [150, 200, crossings.slice(0, 1)],
    [5100, 200, crossings],
    [250, 404, { status: 404 }],
    [300, 200, crossings],
  ];
  globalThis.fetch = (_url, { signal }) =>
    new Promise((resume, reject) => {
      const [ms, status, body] = answers.shift();
      signal.addEventListener('abort', () => reject(signal.reason));
      timers.setTimeout(() => resume(Response.json(body, { status })), ms);
    });
  const lines = [];
  const timetable = officeWithLog((line) => lines.push(line), now);
  const idle = async (ms) => {
    await pass(ms);
    for (let i = 0; i < 5; i++) await rest();
  };
  for (const [day, ms] of [
    ['today', 1500],
    ['tomorrow', 2000],
    ['today', 50],
    ['tomorrow', 1000],
    ['today', 6000],
    ['tomorrow', 1000],
    ['today', 100],
  ]) {
    timetable.load(day);
    await idle(ms);
  }
  timetable.leave();
  await idle(6000);
  writeFileSync(`${source}/logs/office.log.jsonl`, `${lines.join('\n')}\n`);
  return lines.length;
}

console.log(`${source}/logs/morning.log.jsonl  ${await morning()} lines`);
console.log(`${source}/logs/old.log.jsonl      ${await oldMorning()} lines`);
console.log(`${source}/logs/office.log.jsonl   ${await oldOffice()} lines`);
process.exit(0);
