/** Whole numbers with a comma every three digits. */
export function countText(n: number): string {
  return String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ',');
}

/** A number with its noun: `1 place`, `2,000 places`. */
export const counted = (n: number, what: string): string =>
  `${countText(n)} ${what}${n === 1 ? '' : 's'}`;
