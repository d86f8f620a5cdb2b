// What was kept in a storage before there was a schema.
import { hasVersion, type KeptBefore, type Stored } from './saved.js';

/** What there was: its keys by name, of JSON data and of texts, and what makes fields of it. */
interface Old {
  readonly keys?: Readonly<Record<string, string>>;
  readonly texts?: Readonly<Record<string, string>>;
  readonly make: (old: Stored) => object;
}

/** How what was kept before is found. */
export function keptBefore({ keys = {}, texts = {}, make }: Old): KeptBefore {
  const all = [...Object.values(keys), ...Object.values(texts)];
  return {
    keys: all,
    make(read) {
      const kept = (
        of: Readonly<Record<string, string>>,
        parse: (text: string) => unknown = (text) => text,
      ) =>
        Object.entries(of).flatMap(([name, key]) => {
          const text = read(key);
          return text === null ? [] : [[name, parse(text)] as const];
        });
      const found = [...kept(keys, JSON.parse), ...kept(texts)];
      return found.length === 0 ? undefined : make(Object.fromEntries(found));
    },
    isOwn: (text, key) => text !== null && (!all.includes(key) || hasVersion(parsedOr(text))),
  };
}

/** A text as JSON data, or as it is. */
function parsedOr(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}
