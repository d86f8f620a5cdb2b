import type { Problems } from '../problems/problem.js';
import { Source } from '../../base/source.js';
import {
  entriesOf,
  entryOf,
  itemsOf,
  textOf,
  valueOf,
  type Located,
  type LocatedEntry,
  type LocatedMap,
} from '../syntax/located.js';
import { readYaml } from '../syntax/read-yaml.js';
import { checkStructure, type BrokenPart } from './read-structure.js';

/** How files that others take in with `use` are found and read. */
export interface SchemaAccess {
  /** The path of a file that another one names. */
  resolve(from: string, named: string): string;
  /** A text that is the same for the same file, however its path is written. */
  identity(path: string): string;
  /** The text of a file; `undefined` if there is none. */
  read(path: string): string | undefined;
}

/** All files as one. */
export interface ReadFiles {
  readonly root: LocatedMap;
  /** The definitions of which something was taken out, since it does not belong there. */
  readonly broken: readonly BrokenPart[];
}

const sections = ['types', 'functions', 'services', 'stores'] as const;

/**
 * Reads schema files and those that they use, depth first, each once, and merges them into one; `undefined`,
 * with problems, if one of them cannot be read or has not the structure of the format.
 */
export async function readFiles(
  sources: readonly Source[],
  access: SchemaAccess | undefined,
  problems: Problems,
): Promise<ReadFiles | undefined> {
  const reading = new FileReading(access, problems);
  for (const source of sources) await reading.take(source);
  const [first] = reading.roots;
  if (reading.isIncomplete || first === undefined) return undefined;
  if (reading.roots.every((root) => entriesOf(valueOf(root, 'stores')).length === 0)) {
    if (!problems.hasErrors)
      problems.add('wrong-structure', startOf(first), { detail: 'There is no store.' });
    return undefined;
  }
  return { root: merged(first, reading.roots), broken: reading.broken };
}

class FileReading {
  readonly roots: Located[] = [];
  readonly broken: BrokenPart[] = [];
  /** True if a file could not be read at all. */
  isIncomplete = false;
  readonly #seen = new Set<string>();

  constructor(
    readonly access: SchemaAccess | undefined,
    readonly problems: Problems,
  ) {}

  async take(source: Source): Promise<void> {
    const identity = this.access?.identity(source.path) ?? source.path;
    if (this.#seen.has(identity)) return;
    this.#seen.add(identity);
    const before = this.problems.count;
    const root = await readYaml(source, this.problems);
    this.isIncomplete ||= root === undefined || this.problems.count > before;
    if (root === undefined || this.problems.count > before) return;
    const { root: left, broken } = checkStructure(root, this.problems);
    this.broken.push(...broken);
    this.isIncomplete ||= left === undefined;
    if (left === undefined) return;
    this.roots.push(left);
    for (const item of itemsOf(valueOf(left, 'use'))) await this.#use(source, item);
  }

  async #use(from: Source, item: Located): Promise<void> {
    const named = textOf(item) ?? '';
    const path = this.access?.resolve(from.path, named);
    const text = path === undefined ? undefined : this.access?.read(path);
    if (path === undefined || text === undefined) {
      this.isIncomplete = true;
      this.problems.add('no-such-file', item.span, { path: path ?? named });
    } else await this.take(new Source(path, text));
  }
}

/** One file that says what several say; the title is that of the first that has one. */
function merged(first: Located, roots: readonly Located[]): LocatedMap {
  const entries = ['title', 'about'].flatMap((key) => {
    const entry = roots.map((root) => entryOf(root, key)).find((found) => found !== undefined);
    return entry === undefined ? [] : [entry];
  });
  const together = sections.flatMap((key): LocatedEntry[] => {
    const found = roots.flatMap((root) => entryOf(root, key) ?? []);
    const [one] = found;
    if (one === undefined) return [];
    const value: LocatedMap = {
      kind: 'map',
      span: one.value.span,
      entries: found.flatMap((entry) => entriesOf(entry.value)),
    };
    return [{ ...one, value }];
  });
  return { kind: 'map', span: first.span, entries: [...entries, ...together] };
}

function startOf({ span }: Located) {
  return { ...span, end: Math.min(span.end, span.start + 1) };
}
