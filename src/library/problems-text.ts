import { renderProblems } from '../diagnostics/render.js';
import type { Problem } from '../diagnostics/problem.js';

const plain = (text: string): string => text;
const paint = {
  bold: plain,
  dim: plain,
  red: plain,
  green: plain,
  yellow: plain,
  cyan: plain,
  columns: 100,
};

/** Problems as `leeshore check` prints them, without colours: place, message, the line with a caret, a way out. */
export function problemsText(problems: readonly Problem[]): string {
  return renderProblems(problems, paint);
}
