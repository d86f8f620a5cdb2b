import pc from 'picocolors';
import type { Paint } from '../core.js';

/** What the program finds around it. */
export interface Surroundings {
  readonly stdout: (text: string) => void;
  readonly stderr: (text: string) => void;
  /** Reads standard input to its end. */
  readonly stdin: () => Uint8Array;
  /** True if standard output and standard error are terminals. */
  readonly isTerminal: boolean;
  readonly isErrorTerminal: boolean;
  /** The number of columns that the terminal has; `undefined` where there is none. */
  readonly terminalColumns: number | undefined;
  readonly env: Readonly<Record<string, string | undefined>>;
  /** The folder that paths are relative to. */
  readonly cwd: string;
  /** Milliseconds from any start. */
  readonly clock: () => number;
  /** Calls back once when the user interrupts; returns what stops listening. */
  readonly onInterrupt: (interrupted: () => void) => () => void;
}

/** What the options that all commands share ask for. */
export interface Manner {
  /** True if the result is one JSON value: then nothing else goes to standard output. */
  readonly json: boolean;
  /** True if what is not a finding is left out. */
  readonly quiet: boolean;
  /** True if to colour; decided by the surroundings if not given. */
  readonly color: boolean | undefined;
}

/** Everything that a command touches outside itself. */
export interface Io extends Surroundings, Manner {
  /** Prints a text for people on standard output. */
  readonly print: (text: string) => void;
  /** Prints what a quiet program leaves out. */
  readonly note: (text: string) => void;
}

/** Exit codes of all commands. */
export const exitCodes = { fine: 0, findings: 1, unusable: 2, fault: 3, interrupted: 130 } as const;

/** Something that the user gave cannot be used: said in one line, with a way out. */
export class Unusable extends Error {
  constructor(
    message: string,
    readonly hint?: string,
  ) {
    super(message);
  }
}

/** Refuses options that each ask for something else: none would be what was asked for. */
export function requireOneOf(forms: Readonly<Record<string, boolean>>): void {
  const asked = Object.keys(forms).filter((name) => forms[name] === true);
  if (asked.length > 1)
    throw new Unusable(
      `${asked.map((name) => `--${name}`).join(' and ')} do not go together.`,
      'Use one of them at a time.',
    );
}

/** How wide texts are where there is no terminal, and the least and the most that is made use of. */
const usualColumns = 100;
const leastColumns = 60;
const mostColumns = 200;

/** The number of columns that a printed line may take. */
export function columnsOf({ terminalColumns }: Pick<Surroundings, 'terminalColumns'>): number {
  if (terminalColumns === undefined || terminalColumns === 0) return usualColumns;
  return Math.min(mostColumns, Math.max(leastColumns, terminalColumns));
}

/** Colours on a terminal that has them, unless the user says otherwise. */
export function paintFor(io: Io, isTerminal = io.isTerminal): Paint {
  const { bold, dim, red, green, yellow, cyan } = pc.createColors(isColoured(io, isTerminal));
  return { bold, dim, red, green, yellow, cyan, columns: columnsOf(io) };
}

/** True if texts are coloured. */
export function isColoured(
  { color, env }: Pick<Io, 'color' | 'env'>,
  isTerminal: boolean,
): boolean {
  if (color !== undefined) return color;
  if (env.NO_COLOR) return false;
  const { FORCE_COLOR: forced } = env;
  if (forced !== undefined) return forced !== '0' && forced !== 'false';
  return isTerminal && env.TERM !== 'dumb';
}
