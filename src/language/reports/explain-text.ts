import { catalogue, type Code } from '../problems/catalogue.js';
import { explanations } from '../problems/explanations/explanations.js';
import { nearest } from '../../base/suggest.js';
import type { Paint } from '../../report/paint.js';

/** Every code, in the order in which a check can find it. */
const codes = Object.keys(catalogue) as readonly Code[];

/** What a code means: the rule, why it is there, a wrong and a right example; `undefined` for what is no code. */
export function explainText(code: string, paint: Paint): string | undefined {
  if (!Object.hasOwn(explanations, code)) return undefined;
  const { rule, why, wrong, right } = explanations[code as Code];
  const { severity } = catalogue[code as Code];
  const tone = { error: paint.red, warning: paint.yellow, advice: paint.cyan }[severity];
  const example = (text: string) => text.trimEnd().replace(/^/gm, '  ');
  return [
    `${paint.bold(code)}  ${tone(severity)}`,
    '',
    folded(rule, paint),
    '',
    `${paint.cyan('Why')}`,
    folded(why, paint),
    '',
    paint.red('Wrong'),
    example(wrong),
    '',
    paint.green('Right'),
    example(right),
  ].join('\n');
}

/** The code that is probably meant. */
export function nearestCode(text: string): string | undefined {
  return nearest(text, codes) ?? codes.find((code) => code.includes(text));
}

/** All codes with their rules, a line each. */
export function codesText(paint: Paint): string {
  const column = Math.max(...codes.map((code) => code.length));
  return codes
    .map((code) => `${paint.bold(code.padEnd(column))}  ${explanations[code].rule}`)
    .join('\n');
}

function folded(text: string, { columns }: Paint): string {
  const width = Math.min(columns, 92) - 2;
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const line = lines.at(-1);
    if (line === undefined || line.length + word.length + 1 > width) lines.push(word);
    else lines[lines.length - 1] = `${line} ${word}`;
  }
  return lines.map((line) => `  ${line}`).join('\n');
}

/** All codes with what `explain` says of them, as a page of the documentation. */
export function codesMarkdown(): string {
  const sections = codes.map((code) => {
    const { rule, why, wrong, right } = explanations[code];
    const { severity } = catalogue[code];
    return `## ${code}\n\n_${severity}._ ${rule} ${why}\n\nWrong:\n\n\`\`\`text\n${wrong.trimEnd()}\n\`\`\`\n\nRight:\n\n\`\`\`yaml\n${right.trimEnd()}\n\`\`\`\n`;
  });
  const head =
    '# Codes\n\nEvery problem that `leeshore check` finds has a code that stays the same. `leeshore explain CODE` prints what\nstands here. Errors stop a command, warnings do not, and advice is given with `--advice`.\n';
  return [head, ...sections].join('\n');
}
