import type { Random } from '../../base/random.js';

/** Values that stand in the schema and in the code of participants, which somebody compares with; and what items of lists are told apart by. */
export interface Constants {
  readonly texts: readonly string[];
  readonly numbers: readonly number[];
  /** The names of properties that are the key of a list somewhere in the schema. */
  readonly keys: readonly string[];
}

export const noConstants: Constants = { texts: [], numbers: [], keys: [] };

/** What hardly anybody thinks of, drawn again and again where it is given. */
export interface Odd {
  readonly number: number;
  readonly text: string;
}

/** Sums of them leave what numbers can hold, or lose digits. */
const oddNumbers = [1.7e308, 1.7e308, -1.7e308, 2 ** 53, 0.1, 1e-7, 1e21];

/** Names that objects know; texts that have another length in capitals, blanks that are none of the usual, half a character. */
const oddTexts = ['__proto__', 'toString', 'stra\u00dfe', '\u0130', '\u00a0SK 4\u2003', '\ud83d'];

export function drawOdd(random: Random): Odd {
  return { number: random.pick(oddNumbers), text: random.pick(oddTexts) };
}

/** Texts that are blank, nearly numbers, or another text once they are trimmed, split or put in capitals. */
const rareTexts = [
  '    ',
  '\t',
  '\tSK 4\n',
  'SK  4',
  'a  b',
  '\u00a0a\u00a0',
  'mid',
  'straße',
  'e\u0301',
  'ﬁne',
  '12abc',
  '0x10',
  '1e3 ',
  '1,5',
  '-0',
  '007',
  'NaN',
  'null',
  'false',
  '⛴⛴⛴',
] as const;

export const rareText = (random: Random): string => random.pick(rareTexts);

/** A text with a whole character in place of each half one. */
export const wellFormed = (text: string): string =>
  text.replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '\u26f4');

/** A text near another: part of it, twice, in other letters, with blanks within or around. */
export function nearText(random: Random, text: string): string {
  const characters = [...text];
  const half = Math.ceil(characters.length / 2);
  const other = text.toLowerCase() === text ? text.toUpperCase() : text.toLowerCase();
  return random.pick([
    ` ${text} `,
    `\t${text}`,
    other,
    other,
    text + text,
    characters.slice(0, -1).join(''),
    characters.slice(1).join(''),
    `${characters.slice(0, half).join('')}  ${characters.slice(half).join('')}`,
    `${text}1`,
  ]);
}

/** A number with more digits than people write, or near another by less than they would see. */
export function fineNumber(random: Random, from: number, to: number, near: number): number {
  const digits = random.pick([10, 100, 1000, 10_000]);
  const between = from + (to - from) * random.fraction();
  return random.pick([
    Math.round(between * digits) / digits,
    Math.round(between * digits) / digits,
    near + 1 / digits,
    near - 1 / digits,
    near + 1e-9,
    from + 1e-9,
    to - 1e-9,
    0.1 + 0.2,
    1 / 3,
    2.675,
  ]);
}

/** Keys that objects put in an order of their own, and such that they know already. */
export const rareNames = ['10', '7', '-1', 'constructor', '', '__proto'] as const;
