import pc from 'picocolors';
import type { Paint } from '../index.js';

/** Everything that a command touches outside itself. */
export interface Io {
  readonly stdout: (text: string) => void;
  readonly stderr: (text: string) => void;
  /** Whether standard output and standard error are terminals. */
  readonly isTerminal: boolean;
  readonly isErrorTerminal: boolean;
  readonly env: Readonly<Record<string, string | undefined>>;
  /** The folder that paths are relative to. */
  readonly cwd: string;
  /** Milliseconds from any start. */
  readonly clock: () => number;
  /** Calls back once when the user interrupts; returns what stops listening. */
  readonly onInterrupt: (interrupted: () => void) => () => void;
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
      'Ask for one of them at a time.',
    );
}

/** Colours on a terminal, unless NO_COLOR is set. */
export function paintFor(io: Io, isTerminal = io.isTerminal): Paint {
  const { bold, dim, red, green, yellow, cyan } = pc.createColors(isTerminal && !io.env.NO_COLOR);
  return { bold, dim, red, green, yellow, cyan };
}
