// What is on the pictures of docs/screenshots: commands on the demo data, in a folder that is made ready for them.
import { spawnSync } from 'node:child_process';
import { cpSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { stripVTControlCharacters } from 'node:util';

/** Letters of 19 pixels, and of 15 for what is long: whatever is shown is to fill the picture. */
const large = { font: 14, geometry: '105x33' };
const small = { font: 11, geometry: '142x42' };

const slips = [
  ['v => v.boarded)', 'v => v.borded)'],
  ['clear:', 'freeM:'],
  ['hold === null && !full', 'hold == null && !full'],
  ['"(byLane[payload.lane] ?? 0) + payload.lengthM"', '"payload.plate * payload.lengthM"'],
  ['hold: "payload"', 'hold: "vehicles.find(v => v.id === payload)?.plate"'],
  ['maximum: 40, default: 18', 'maximum: 40'],
];
/** The pictures of a terminal: `before` changes files of the folder, `isLong` takes more than a few seconds. */
export const shots = [
  { name: 'check', window: large, commands: ['leeshore check ferry.stores.yaml'] },
  { name: 'check-problems', window: small, commands: ['leeshore check slips.stores.yaml'] },
  { name: 'explain', window: large, commands: ['leeshore explain maybe-missing'] },
  {
    name: 'generate',
    window: small,
    commands: ['leeshore generate ferry.stores.yaml', 'sed -n 17,46p stores/proxy/stores/wind.ts'],
  },
  {
    name: 'compare-same',
    window: small,
    commands: ['leeshore compare ferry.stores.yaml --steps 4000'],
  },
  {
    name: 'compare-branches',
    window: large,
    commands: [
      'leeshore compare ferry.stores.yaml --with mended/terminal.participant.ts --style none --steps 2000 >out',
      'head -1 out; grep -A 20 ^Reached out',
    ],
  },
  {
    name: 'compare-old',
    window: large,
    commands: [
      'leeshore compare ferry.stores.yaml --with old/terminal.participant.ts --style reducer',
    ],
  },
  {
    name: 'compare-late',
    window: large,
    commands: [
      'leeshore compare harbour.stores.yaml --with old/office.participant.ts --style reducer',
    ],
  },
  {
    name: 'show-tasks',
    window: small,
    commands: ['leeshore show harbour.stores.yaml --store timetable'],
  },
  {
    name: 'compare-faults',
    window: small,
    isLong: true,
    commands: ['leeshore compare ferry.stores.yaml --faults 24 --steps 6000'],
  },
  {
    name: 'timeline',
    window: small,
    commands: [
      'leeshore timeline logs/morning.log.jsonl --store timetable,plan --color | head -20',
      'leeshore timeline logs/morning.log.jsonl --at 34 --color | head -19',
    ],
  },
  {
    name: 'replay',
    window: small,
    commands: [
      'leeshore replay logs/old.log.jsonl ferry.stores.yaml --mapping old/terminal.participant.ts',
    ],
  },
  {
    name: 'survey',
    window: small,
    commands: [
      'leeshore survey page --old old/terminal.ts --new page/stores --with old/terminal.participant.ts',
    ],
  },
  {
    name: 'weigh',
    window: small,
    commands: [
      'leeshore weigh ferry.stores.yaml --against old/terminal.ts --readers react,vue,angular --max-size 11.7kB',
    ],
  },
  // A test of the program looks at it.
  { name: 'demo', window: small, isLong: true, commands: ['leeshore demo --color | head -39'] },
];

/** Changes a file of a folder; each text must be there. */
function change(folder, file, changes, to = file) {
  let text = readFileSync(join(folder, file), 'utf8');
  for (const [from, by] of changes) {
    if (!text.includes(from)) throw new Error(`${file} has no '${from}'`);
    text = text.replace(from, by);
  }
  writeFileSync(join(folder, to), text);
}

/** Makes a folder ready: the demo data, the program under its name, and the old stores, of which one is mended. */
export function makeReady(folder, root) {
  cpSync(join(root, 'examples/skerry/ferry.stores.yaml'), join(folder, 'ferry.stores.yaml'));
  cpSync(join(root, 'examples/skerry/harbour.stores.yaml'), join(folder, 'harbour.stores.yaml'));
  for (const part of ['old', 'logs'])
    cpSync(join(root, 'examples/skerry', part), join(folder, part), { recursive: true });
  for (const step of ['page', 'moved-1'])
    cpSync(join(root, 'examples/skerry/port', step), join(folder, 'page'), { recursive: true });
  // Of its two mistakes one is mended: the busy flag does not stay on.
  change(folder, 'old/office.ts', [
    ['this.shown.problem = error', 'this.shown.busy = false;\n      this.shown.problem = error'],
  ]);
  const program = join(root, 'bin/leeshore.js');
  writeFileSync(join(folder, 'leeshore'), `#!/bin/sh\nexec node "${program}" "$@"\n`, {
    mode: 0o755,
  });
  change(folder, 'ferry.stores.yaml', slips, 'slips.stores.yaml');
  const newStores = ['generate', 'ferry.stores.yaml', '--style', 'proxy', '--out', 'page/stores'];
  spawnSync(process.execPath, [program, ...newStores], { cwd: folder });
  // The old terminal without its three mistakes.
  cpSync(join(folder, 'old'), join(folder, 'mended'), { recursive: true });
  change(folder, 'mended/terminal.ts', [
    ['value as number', 'Number(value)'],
    ['this.lastGusts.pop()', 'this.lastGusts.shift()'],
    ['this.officerSince = null;\n', 'this.officerSince = null;\n    this.changesOfWatch = 0;\n'],
  ]);
}

/** What is done before the commands of a picture: scripts that were saved for another are taken away. */
export function begin({ before }, folder) {
  for (const file of readdirSync(folder))
    if (file.endsWith('.script.json')) rmSync(join(folder, file));
  before?.(folder);
}

/** What the commands of a picture print, without what differs from run to run: how long they took. */
export function printedBy(shot, folder) {
  const { commands, after } = shot;
  begin(shot, folder);
  const texts = commands.map((command) => {
    const env = { ...process.env, PATH: `${folder}:${process.env.PATH}`, NO_COLOR: '1' };
    const { stdout, stderr } = spawnSync('sh', ['-c', command], {
      cwd: folder,
      env,
      encoding: 'utf8',
    });
    return `$ ${command}\n${stdout}${stderr}`;
  });
  after?.(folder);
  return untimed(texts.join('\n'));
}

/** A text without colours, and without how long something took. */
export function untimed(text) {
  return stripVTControlCharacters(text).replace(/\d+\.\d s(, [\d,]+ steps\/s)?/g, '... s');
}
