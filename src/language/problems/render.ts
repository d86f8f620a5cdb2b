import stringWidth from 'string-width';
import type { Problem } from './problem.js';
import type { Paint } from '../../report/paint.js';
import type { Span } from '../../base/source.js';

/** At most this many problems are printed; the rest are counted. */
const mostPrinted = 50;

/** Problems as people read them: place, code, message, the source line with a caret, hint, other places. */
export function renderProblems(problems: readonly Problem[], paint: Paint): string {
  const blocks = problems.slice(0, mostPrinted).map((problem) => renderProblem(problem, paint));
  if (problems.length > mostPrinted) blocks.push(`and ${problems.length - mostPrinted} more`);
  return blocks.join('\n\n');
}

const tones = ({ red, yellow, cyan }: Paint) => ({ error: red, warning: yellow, advice: cyan });

/** The number of problems of each kind: '2 errors', '1 warning'. */
export function countText(problems: readonly Problem[]): string {
  const kinds = [
    ['error', 'errors'],
    ['warning', 'warnings'],
    ['advice', 'pieces of advice'],
  ] as const;
  const texts = kinds.flatMap(([kind, several]) => {
    const count = problems.filter(({ severity }) => severity === kind).length;
    const one = kind === 'advice' ? 'piece of advice' : kind;
    return count === 0 ? [] : [`${count} ${count === 1 ? one : several}`];
  });
  return texts.join(', ');
}

function renderProblem(problem: Problem, paint: Paint): string {
  const tone = tones(paint)[problem.severity];
  const head = `${paint.bold(placeText(problem.span))}: ${tone(problem.severity)} ${paint.dim(`[${problem.code}]`)}`;
  const lines = [head, `  ${problem.message}`, ...excerpt(problem.span, tone, paint)];
  for (const { message, span } of problem.related) {
    lines.push(`  ${message}: ${placeText(span)}`, ...excerpt(span, paint.cyan, paint));
  }
  if (problem.hint !== undefined) lines.push(`  ${paint.cyan('hint')}: ${problem.hint}`);
  return lines.join('\n');
}

/** `path:line:column` of a span's start. */
export function placeText(span: Span): string {
  const { line, column } = span.source.placeOf(span.start);
  return `${span.source.path}:${line}:${column}`;
}

/** So many columns of a source line stand before the caret where not all of it can be shown. */
const columnsBefore = 30;

function excerpt(span: Span, tone: (text: string) => string, paint: Paint): string[] {
  const { line, column } = span.source.placeOf(span.start);
  const end = span.source.placeOf(span.end);
  const full = span.source.lineText(line).replaceAll('\t', ' ');
  const gutter = String(line);
  const width = paint.columns - gutter.length - 5;
  const from = column > width ? Math.max(0, column - columnsBefore) : 0;
  const shown = full.slice(from, from + width);
  const before = shown.slice(0, column - 1 - from);
  const marked =
    end.line === line ? full.slice(column - 1, end.column - 1) : full.slice(column - 1);
  const room = Math.max(1, width - stringWidth(before));
  const carets = '^'.repeat(Math.min(room, Math.max(1, stringWidth(marked))));
  return [
    `  ${paint.dim(`${gutter} |`)} ${shown}`,
    `  ${paint.dim(`${' '.repeat(gutter.length)} |`)} ${' '.repeat(stringWidth(before))}${tone(carets)}`,
  ];
}

/** A problem as JSON, with lines and columns from 1. */
export function problemToJson(problem: Problem) {
  return {
    code: problem.code,
    severity: problem.severity,
    message: problem.message,
    ...(problem.hint === undefined ? {} : { hint: problem.hint }),
    ...spanToJson(problem.span),
    related: problem.related.map(({ message, span }) => ({ message, ...spanToJson(span) })),
  };
}

function spanToJson(span: Span) {
  const start = span.source.placeOf(span.start);
  const end = span.source.placeOf(span.end);
  return {
    file: span.source.path,
    line: start.line,
    column: start.column,
    endLine: end.line,
    endColumn: end.column,
  };
}
