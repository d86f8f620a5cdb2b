/** A picture of commands in a terminal. */
export interface Shot {
  readonly name: string;
  readonly window: { readonly font: number; readonly geometry: string };
  readonly commands: readonly string[];
  readonly isLong?: boolean;
  readonly before?: (folder: string) => void;
  readonly after?: (folder: string) => void;
}

export const shots: readonly Shot[];
export function makeReady(folder: string, root: string): void;
export function begin(shot: Shot, folder: string): void;
export function printedBy(shot: Shot, folder: string): string;
export function untimed(text: string): string;
