import { plainPaint, renderProblems } from '../diagnostics/render.js';
import type { Problem } from '../diagnostics/problem.js';

/** Problems as `leeshore check` prints them, without colours: place, message, the line with a caret, a way out. */
export function problemsText(problems: readonly Problem[]): string {
  return renderProblems(problems, plainPaint);
}
