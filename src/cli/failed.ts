import type { MissingPackage } from '../core.js';
import { exitCodes, paintFor, Unusable, type Io } from './io.js';

/** Says why a command could not do its work; gives the exit code. */
export function failed(io: Io, thrown: unknown): number {
  const error = isMissingPackage(thrown)
    ? new Unusable(
        `This needs the package ${thrown.name} (${thrown.versions}), which is not installed.`,
        `Install it in your project: npm install --save-dev ${thrown.install}`,
      )
    : thrown;
  if (error instanceof Unusable) {
    if (io.json) printFailure(io, 'unusable', error.message, error.hint);
    sayUnusable(io, error);
    return exitCodes.unusable;
  }
  const detail = error instanceof Error ? (error.stack ?? error.message) : String(error);
  const message = detail.split('\n')[0] ?? '';
  if (io.json)
    printFailure(io, 'fault', message, 'This is a fault in Leeshore, not in your files.');
  const shown = io.env.LEESHORE_TRACE
    ? detail
    : `  ${message}\n  Set LEESHORE_TRACE=1 to see where it happened.`;
  const paint = paintFor(io, io.isErrorTerminal);
  io.stderr(`${paint.red('leeshore')}: a fault in Leeshore itself, not in your files.\n${shown}\n`);
  return exitCodes.fault;
}

/** Says what cannot be used, and the way out. */
export function sayUnusable(io: Io, { message, hint }: Unusable): void {
  const paint = paintFor(io, io.isErrorTerminal);
  const way = hint === undefined ? '' : `  ${paint.cyan('hint')}: ${hint}\n`;
  io.stderr(`${paint.red('leeshore')}: ${message}\n${way}`);
}

function printFailure(io: Io, kind: 'unusable' | 'fault', message: string, hint?: string): void {
  const failure = { leeshoreFailure: 1, kind, message, hint: hint ?? null };
  io.stdout(`${JSON.stringify(failure, null, 2)}\n`);
}

/** Told by what it says of itself: its class is loaded with what needs it only. */
function isMissingPackage(thrown: unknown): thrown is MissingPackage {
  return thrown instanceof Error && 'versions' in thrown;
}
