// Which folder may import which: data flows one way.
const layers = {
  base: [],
  diagnostics: ['base'],
  syntax: ['diagnostics', 'base'],
  model: ['diagnostics', 'base'],
  check: ['syntax', 'model', 'diagnostics', 'base'],
  interpret: ['model', 'base'],
  emit: ['model', 'base'],
  arrange: ['base'],
  load: ['model', 'base'],
  explore: ['model', 'base'],
  faults: ['model', 'base'],
  log: ['model', 'base'],
  replay: ['log', 'explore', 'model', 'base'],
  survey: ['model', 'base'],
  page: ['log', 'base'],
  weigh: ['base'],
  record: [],
  workers: ['explore', 'faults', 'interpret', 'load', 'log', 'replay', 'model', 'base'],
  report: ['explore', 'faults', 'log', 'replay', 'survey', 'weigh', 'diagnostics', 'model', 'base'],
};

const rules = Object.entries(layers).map(([folder, allowed]) => ({
  name: `${folder}-imports`,
  severity: 'error',
  comment: `src/${folder} may import ${['itself', ...allowed].join(', ')}.`,
  from: { path: `^src/${folder}/` },
  to: { path: '^src/', pathNot: `^src/(${[folder, ...allowed].join('|')})/` },
}));

/** Folders with a door: others import their `index.ts` and their `loaders.ts`, and nothing else of them. */
const rooms = ['arrange', 'emit', 'faults', 'interpret', 'survey', 'weigh'];

const doors = rooms.map((folder) => ({
  name: `${folder}-door`,
  severity: 'error',
  comment: `Others import index.ts and loaders.ts of src/${folder}, and nothing else.`,
  from: { path: '^src/', pathNot: `^src/${folder}/` },
  to: { path: `^src/${folder}/`, pathNot: `^src/${folder}/(index|loaders)\\.ts$` },
}));

export default {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'styles-apart',
      severity: 'error',
      comment: 'A style imports no other style.',
      from: { path: '^src/emit/styles/([^/]+)/' },
      to: { path: '^src/emit/styles/', pathNot: '^src/emit/styles/$1/' },
    },
    {
      name: 'cli-imports',
      severity: 'error',
      comment: 'The command line reaches the stages through core.ts only.',
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
          '^src/page/main\\.ts$',
          '^src/cli/folders/guardian\\.ts$',
          '\\.d\\.ts$',
          '^src/emit/runtime/',
        ],
      },
      to: {},
    },
    ...rules,
    ...doors,
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.d.ts', '.js'] },
  },
};
