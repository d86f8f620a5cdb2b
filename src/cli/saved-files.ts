import { watch, type FSWatcher } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';

/** How long, in milliseconds, a file has to be left alone: editors save in several steps. */
const settling = 60;

/** Files that are watched: somebody is told each time when one of them was saved. */
export class SavedFiles {
  readonly #watched = new Map<string, FSWatcher>();
  #paths: ReadonlySet<string> = new Set();
  #timer: NodeJS.Timeout | undefined;

  /** Paths are relative to `folder`. `fail` is told what ends the watching. */
  constructor(
    readonly folder: string,
    readonly onSaved: (name: string) => void,
    readonly fail: (error: unknown) => void,
  ) {}

  /** These files are watched from now on, in place of others. */
  follow(paths: readonly string[]): void {
    this.#paths = new Set(paths.map((path) => resolve(this.folder, path)));
    for (const folder of new Set([...this.#paths].map(dirname))) {
      if (this.#watched.has(folder)) continue;
      const watcher = watch(folder, (_event, name) => {
        if (name === null || !this.#paths.has(resolve(folder, name))) return;
        clearTimeout(this.#timer);
        this.#timer = setTimeout(() => {
          this.onSaved(basename(name));
        }, settling);
      });
      watcher.on('error', this.fail);
      this.#watched.set(folder, watcher);
    }
  }

  close(): void {
    clearTimeout(this.#timer);
    for (const watcher of this.#watched.values()) watcher.close();
  }
}
