// What can be read of stores of streams beside their states: of tasks and histories.
import { Stream, type Streams } from './streams.js';

/** A stream of something that can be read beside the states: the same within an action as before it. */
export class ReadingStream<T> extends Stream<T> {
  readonly #of: () => T;

  constructor(streams: Streams, name: string, of: () => T) {
    super(streams);
    this.name = name;
    this.#of = of;
  }

  protected override read(): T {
    return this.#of();
  }

  protected override within(): T {
    return this.#of();
  }

  protected override giveOut(value: T): T {
    return value;
  }
}
