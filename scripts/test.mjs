// Runs Jest on the sources, with ES modules as they are; arguments go on to Jest.
import { spawnSync } from 'node:child_process';

const { status } = spawnSync(
  process.execPath,
  [
    '--experimental-vm-modules',
    '--no-warnings',
    'node_modules/jest/bin/jest.js',
    ...process.argv.slice(2),
  ],
  {
    stdio: 'inherit',
    env: { ...process.env, NO_COLOR: process.env.CI ? '1' : (process.env.NO_COLOR ?? '') },
  },
);
process.exit(status ?? 3);
