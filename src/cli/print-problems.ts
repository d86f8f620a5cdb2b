import type { CheckResult } from '../core.js';
import { paintFor, type Io } from './io.js';

/** Says what keeps a command from its work, where that is the schema. */
export async function printProblems(
  io: Io,
  files: readonly string[],
  problems: CheckResult['problems'],
): Promise<void> {
  const { countText, problemToJson, renderProblems } = await import('../core.js');
  if (io.json) {
    const failure = {
      leeshoreFailure: 1,
      kind: 'problems',
      message: `The schema has ${countText(problems)}.`,
      hint: 'leeshore explain CODE says more on each code.',
      files,
      problems: problems.map(problemToJson),
    };
    io.stdout(`${JSON.stringify(failure, null, 2)}\n`);
    return;
  }
  const paint = paintFor(io, io.isErrorTerminal);
  io.stderr(`${renderProblems(problems, paint)}\n\n${paint.bold(countText(problems))}\n`);
}
