// Which room may import which: data flows one way.
const rooms = {
  base: [],
  model: ['base'],
  report: ['model', 'base'],
  language: ['report', 'model', 'base'],
  meaning: ['model', 'base'],
  generation: ['model', 'base'],
  participants: ['model', 'base'],
  comparing: ['report', 'model', 'base'],
  logs: ['comparing', 'report', 'model', 'base'],
  survey: ['report', 'model', 'base'],
  weigh: ['report', 'base'],
  workers: ['comparing', 'logs', 'meaning', 'participants', 'model', 'base'],
};

/** What everyone speaks: its files are what others import. */
const open = ['base', 'model', 'report'];

/** Within a room, what stands in a folder imports what these folders have, and not the other way round. */
const folders = {
  'language/problems': [],
  'language/syntax': ['problems'],
  'language/check': ['syntax', 'problems'],
  'language/reports': ['problems'],
  'comparing/faults': [],
  'logs/record': [],
  'logs/log': [],
  'logs/page': ['log'],
  'logs/replay': ['log'],
  'logs/reports': ['log', 'replay'],
};

const pattern = (names) => `(${names.join('|')})`;

const between = Object.entries(rooms).map(([room, allowed]) => ({
  name: `${room}-imports`,
  severity: 'error',
  comment: `src/${room} may import ${['itself', ...allowed].join(', ')}.`,
  from: { path: `^src/${room}/` },
  to: { path: '^src/', pathNot: `^src/${pattern([room, ...allowed])}/` },
}));

const doors = Object.keys(rooms)
  .filter((room) => !open.includes(room))
  .map((room) => ({
    name: `${room}-door`,
    severity: 'error',
    comment: `Others import index.ts and loaders.ts of src/${room}, and nothing else.`,
    from: { path: '^src/', pathNot: `^src/${room}/` },
    to: { path: `^src/${room}/`, pathNot: `^src/${room}/(index|loaders)\\.ts$` },
  }));

const within = Object.entries(folders).map(([folder, allowed]) => {
  const [room, own] = folder.split('/');
  return {
    name: `${folder.replace('/', '-')}-imports`,
    severity: 'error',
    comment: `src/${folder} may import ${['itself', ...allowed].join(', ')} of its room.`,
    from: { path: `^src/${folder}/` },
    to: { path: `^src/${room}/`, pathNot: `^src/${room}/${pattern([own, ...allowed])}/` },
  };
});

export default {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'styles-apart',
      severity: 'error',
      comment: 'A style imports no other style.',
      from: { path: '^src/generation/styles/([^/]+)/' },
      to: { path: '^src/generation/styles/', pathNot: '^src/generation/styles/$1/' },
    },
    {
      name: 'cli-imports',
      severity: 'error',
      comment: 'The command line reaches the rooms through core.ts only.',
      from: { path: '^src/cli/' },
      to: {
        path: '^src/',
        pathNot: '^src/(cli/|core\\.ts$|base/styles\\.ts$|library/package-files\\.ts$)',
      },
    },
    {
      name: 'library-imports',
      severity: 'error',
      comment: 'The library knows nothing of the command line.',
      from: { path: '^src/(library/|index\\.ts$)' },
      to: { path: '^src/cli/' },
    },
    {
      name: 'no-orphans',
      severity: 'error',
      from: {
        orphan: true,
        pathNot: [
          '^src/cli/bin\\.ts$',
          '^src/workers/worker\\.ts$',
          '^src/logs/page/main\\.ts$',
          '^src/cli/folders/guardian\\.ts$',
          '\\.d\\.ts$',
          '^src/generation/runtime/',
        ],
      },
      to: {},
    },
    ...between,
    ...doors,
    ...within,
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.d.ts', '.js'] },
  },
};
