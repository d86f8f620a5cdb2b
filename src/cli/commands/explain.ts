import type { Argv } from 'yargs';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';

export const command = 'explain [code]';
export const describe = 'Say what a problem means, with a wrong and a right example';

export function builder(yargs: Argv) {
  return yargs
    .positional('code', { describe: 'the code of a problem; all codes without it', type: 'string' })
    .example('$0 explain maybe-missing', 'what stands in brackets behind a problem');
}

export interface ExplainArguments {
  readonly code?: string | undefined;
}

export async function run(io: Io, { code }: ExplainArguments): Promise<number> {
  const { codesText, explainText, nearestCode } = await import('../../core.js');
  const paint = paintFor(io);
  if (code === undefined) {
    io.print(`${codesText(paint)}\n`);
    return exitCodes.fine;
  }
  const text = explainText(code, paint);
  if (text === undefined) {
    const near = nearestCode(code);
    const hint = near === undefined ? 'leeshore explain lists all codes.' : `Did you mean ${near}?`;
    throw new Unusable(`There is no code '${code}'.`, hint);
  }
  io.print(`${text}\n`);
  return exitCodes.fine;
}
