import { plainPaint } from '../report/paint.js';
import { renderProblems, type Problem } from '../language/index.js';

/** Problems as `leeshore check` prints them, without colours: place, message, the line with a caret, a way out. */
export function problemsText(problems: readonly Problem[]): string {
  return renderProblems(problems, plainPaint);
}
