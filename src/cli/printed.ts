import stringWidth from 'string-width';
import wrapAnsi from 'wrap-ansi';

/** Control characters, and what turns the direction of writing round; the colours that this program uses are none. */
// eslint-disable-next-line no-control-regex -- these are what it is about
const unseen =
  /(?!\u001b\[\d{1,2}m)[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u200e\u200f\u2028-\u202e\u2066-\u2069]/g;

/** A text in which nothing moves a terminal's cursor, or hides or reorders what it shows. */
export function visible(text: string): string {
  return text.replace(unseen, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

/** Lines of tables: they have the width that they need. */
const ofTable = /[│┌├└]/;

/** A text whose long lines are broken between words; what is broken off stands below what it belongs to. */
export function wrapped(text: string, columns: number): string {
  return text
    .split('\n')
    .map((line) =>
      stringWidth(line) <= columns || ofTable.test(line) ? line : fold(line, columns),
    )
    .join('\n');
}

function fold(line: string, columns: number): string {
  const indent = hangingIndent(line, columns);
  const [head, rest] = [line.slice(0, indent), line.slice(indent)];
  return (
    head +
    wrapAnsi(rest, columns - stringWidth(head), { trim: true, hard: true }).replaceAll(
      '\n',
      `\n${' '.repeat(stringWidth(head))}`,
    )
  );
}

/** Where the text of a line begins: after its indentation, or in its second column if it has two. */
function hangingIndent(line: string, columns: number): number {
  const [start = ''] = /^\s*/.exec(line) ?? [];
  const [column = ''] = /^\s*\S+(?: \S+){0,2}\s{2,}(?=\S)/.exec(line) ?? [];
  return stringWidth(column) > 0 && stringWidth(column) <= columns / 2
    ? column.length
    : start.length;
}
