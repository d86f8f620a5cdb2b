// Writes the declarations of the library: those that can be reached from what it exports, and no others.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { globSync } from 'tinyglobby';

const folder = 'dist/types';
rmSync(folder, { recursive: true, force: true });
const { status } = spawnSync('npx', ['tsc', '-p', 'tsconfig.types.json'], { stdio: 'inherit' });
if (status !== 0) process.exit(status ?? 3);

const reached = new Set();
const toRead = ['index.d.ts', 'record/record-old.d.ts'].map((name) => resolve(folder, name));
for (let path = toRead.pop(); path !== undefined; path = toRead.pop()) {
  if (reached.has(path) || !existsSync(path)) continue;
  reached.add(path);
  const text = readFileSync(path, 'utf8');
  for (const [, from] of text.matchAll(/(?:from|import\()\s*['"](\.[^'"]+)\.js['"]/g))
    toRead.push(join(dirname(path), `${from}.d.ts`));
}
for (const path of globSync(`${folder}/**/*.d.ts`, { absolute: true }))
  if (!reached.has(path)) rmSync(path);
console.log(`${folder}: ${reached.size} files`);
