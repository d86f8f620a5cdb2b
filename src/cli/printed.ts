import stringWidth from 'string-width';
import wrapAnsi from 'wrap-ansi';

/** Control characters, and what turns the direction of writing round. */
const unseen =
  // eslint-disable-next-line no-control-regex -- these are what it is about
  /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u200e\u200f\u2028-\u202e\u2066-\u2069]/g;

/** The colours that this program uses: they begin with a control character. */
// eslint-disable-next-line no-control-regex -- it is what they begin with
const colour = /\u001b(?=\[\d{1,2}m)/;

/** A text in which nothing moves a terminal's cursor, or hides or reorders what it shows. */
export function visible(text: string, isColoured: boolean): string {
  return text.replace(unseen, (char, at: number) =>
    isColoured && colour.test(text.slice(at, at + 5))
      ? char
      : `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
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
