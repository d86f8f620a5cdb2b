// Writes the declarations of the library: those that can be reached from what it exports, and no others.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { globSync } from 'tinyglobby';

const folder = resolve('dist/types');
rmSync(folder, { recursive: true, force: true });
const { status } = spawnSync('npx', ['tsc', '-p', 'tsconfig.types.json'], { stdio: 'inherit' });
if (status !== 0) process.exit(status ?? 3);

const named = /(import|export)( type)? \{([^}]*)\} from '(\.[^']+)\.js';/g;
const listed = (names) => names.split(',').flatMap((name) => name.trim() || []);
const withoutType = (name) => name.replace(/^type /, '');

/** Which file each name of a room's door stands in. */
const namesOf = new Map();
function behind(door) {
  const files = new Map();
  for (const [, , , names, from] of readFileSync(door, 'utf8').matchAll(named))
    for (const name of listed(names)) files.set(withoutType(name), resolve(dirname(door), from));
  namesOf.set(door, files);
  return files;
}

/** A declaration that names files in place of doors, so that it reaches no more than it needs. */
function throughDoors(path, text) {
  return text.replace(named, (whole, keyword, type = '', names, from) => {
    const door = resolve(dirname(path), `${from}.d.ts`);
    if (!door.endsWith('/index.d.ts')) return whole;
    const files = namesOf.get(door) ?? behind(door);
    return listed(names)
      .map((name) => {
        const to = relative(dirname(path), files.get(withoutType(name).replace(/ as .*/, '')));
        return `${keyword}${type} { ${name} } from '${to.startsWith('.') ? to : `./${to}`}.js';`;
      })
      .join('\n');
  });
}

const reached = new Set();
const toRead = ['index.d.ts', 'logs/record/record-old.d.ts'].map((name) => resolve(folder, name));
for (let path = toRead.pop(); path !== undefined; path = toRead.pop()) {
  if (reached.has(path) || !existsSync(path)) continue;
  reached.add(path);
  const text = throughDoors(path, readFileSync(path, 'utf8'));
  writeFileSync(path, text);
  for (const [, from] of text.matchAll(/(?:from|import\()\s*['"](\.[^'"]+)\.js['"]/g))
    toRead.push(join(dirname(path), `${from}.d.ts`));
}
for (const path of globSync('**/*.d.ts', { cwd: folder, absolute: true }))
  if (!reached.has(path)) rmSync(path);
console.log(`dist/types: ${reached.size} files`);
