/** A single-file component as a module for the compiler. */
export interface ComponentModule {
  /** TypeScript: scripts stand where they stood, the expressions of the template after them. */
  readonly text: string;
  /** True if it needs the syntax of JSX. */
  readonly hasJsx: boolean;
  /** Where an offset of `text` stands in the component's file; `undefined` for what was added. */
  readonly originOf: (offset: number) => number | undefined;
}

/** Reads components of one kind; the framework's own compiler takes them apart. */
export type ReadComponent = (text: string, path: string) => ComponentModule;

/** Part of the template, and where it stands. */
interface Piece {
  readonly start: number;
  readonly end: number;
  readonly origin: number;
}

/** Writes the module of a component piece by piece. */
export class ComponentWriter {
  readonly #source: string;
  #text: string;
  readonly #pieces: Piece[] = [];

  constructor(source: string) {
    this.#source = source;
    this.#text = source.replace(/[^\n]/g, ' ');
  }

  /** Keeps a script at the place where it stands. */
  script(start: number, end: number): void {
    this.#text =
      this.#text.slice(0, start) + this.#source.slice(start, end) + this.#text.slice(end);
  }

  /** Adds code that stands nowhere in the component. */
  add(code: string): void {
    this.#text += code;
  }

  /** Adds an expression of the template. */
  copy(start: number, end: number): void {
    this.#pieces.push({
      start: this.#text.length,
      end: this.#text.length + end - start,
      origin: start,
    });
    this.#text += this.#source.slice(start, end);
  }

  finish(hasJsx = false): ComponentModule {
    const [pieces, scripts] = [this.#pieces, this.#source.length];
    const originOf = (offset: number) => {
      if (offset < scripts) return offset;
      const piece = pieces.find(({ start, end }) => start <= offset && offset < end);
      return piece === undefined ? undefined : piece.origin + offset - piece.start;
    };
    return { text: this.#text, hasJsx, originOf };
  }
}
