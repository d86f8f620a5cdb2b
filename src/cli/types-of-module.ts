import { existsSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { readText } from './files.js';
import { Unusable, type Io } from './io.js';

/** The names that a module's text imports from another. */
function importedFrom(text: string, module: string): readonly string[] {
  const found = [...text.matchAll(/^import (?:type )?\{([^}]*)\} from ['"]([^'"]+)['"]/gm)];
  const own = found.filter(([, , from]) => from === module);
  return own.flatMap(([, names = '']) =>
    names
      .split(',')
      .map(
        (name) =>
          name
            .trim()
            .replace(/^type /, '')
            .split(' as ')[0] ?? '',
      )
      .filter((name) => name !== ''),
  );
}

/** The endings under which the text of a module may stand that is imported as `./ferry.types.js`. */
const endings = [
  ['.js', '.ts'],
  ['.js', '.d.ts'],
  ['.js', '.tsx'],
  ['.mjs', '.mts'],
  ['', ''],
] as const;

/**
 * Sees to it that a module beside a participant file has the types that the file imports from it. What a package has is not
 * looked at, nor is what a module takes from others. Throws {@link Unusable}.
 */
export function requireTypes(io: Io, participant: string, text: string, module: string): void {
  const wanted = importedFrom(text, module);
  if (wanted.length === 0 || !module.startsWith('.')) return;
  const at = join(dirname(participant), module);
  const path = endings
    .map(([written, there]) =>
      at.endsWith(written) ? `${at.slice(0, at.length - written.length)}${there}` : at,
    )
    .find((one) => existsSync(resolve(io.cwd, one)));
  const make = `Write them with leeshore schema --types SCHEMA --language ts > ${at.replace(/\.js$/, '.ts')}.`;
  if (path === undefined)
    throw new Unusable(`There is no module ${at}, of which ${participant} takes types.`, make);
  const own = readText(io, path);
  if (/^export \*/m.test(own)) return;
  const lacking = wanted.filter(
    (name) =>
      !new RegExp(`^export (?:declare )?(?:type|interface|class|enum) ${name}\\b`, 'm').test(own) &&
      !new RegExp(`^export (?:type )?\\{[^}]*\\b${name}\\b[^}]*\\}`, 'm').test(own),
  );
  if (lacking.length > 0)
    throw new Unusable(
      `${path} has no type ${lacking.join(', ')}, which ${participant} takes of it.`,
      make,
    );
}
