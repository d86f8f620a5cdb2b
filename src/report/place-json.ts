import type { Span } from '../base/source.js';
import type { Application } from '../model/application.js';

/** A place in a schema file. */
export interface PlaceJson {
  readonly file: string;
  readonly line: number;
  readonly column: number;
}

export function placeOf({ source, start }: Span): PlaceJson {
  return { file: source.path, ...source.placeOf(start) };
}

/** Where an action or a task stands, or a store; null if there is none of that name. */
export function placeNamed({ stores }: Application, named: string): PlaceJson | null {
  const [store, name] = named.split('.');
  const owner = stores.find((other) => other.name === store);
  const found =
    name === undefined
      ? owner
      : owner && [...owner.actions, ...owner.tasks].find((other) => other.name === name);
  return found === undefined ? null : placeOf(found.span);
}
