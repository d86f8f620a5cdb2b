import stringWidth from 'string-width';

/** What the borders and the padding of a column take. */
const around = 3;

/** The least that a column is made narrower to. */
const least = 8;

/**
 * The widths of a table's columns, padding included, where it would be wider than the page: the widest column gives
 * way. `undefined` where it fits.
 */
export function fittingWidths(
  head: readonly string[],
  rows: readonly (readonly (string | number)[])[],
  columns: number,
): number[] | undefined {
  const widths = head.map((title, i) =>
    Math.max(stringWidth(title), ...rows.map((row) => stringWidth(String(row[i] ?? '')))),
  );
  const total = () => widths.reduce((sum, width) => sum + width + around, 1);
  if (total() <= columns) return undefined;
  while (total() > columns) {
    const widest = widths.indexOf(Math.max(...widths));
    const width = widths[widest] ?? 0;
    if (width <= least) break;
    widths[widest] = width - 1;
  }
  return widths.map((width) => width + 2);
}
