import { columnsOf, isColoured, type Io, type Manner, type Surroundings } from './io.js';
import { visible, wrapped } from './printed.js';

/** What the options that all commands share ask for. They are needed before the arguments are understood. */
export function mannerIn(argv: readonly string[]): Manner {
  const has = (option: string) => argv.includes(option) && !argv.includes('--');
  return {
    json: has('--json'),
    quiet: has('--quiet'),
    color: has('--no-color') ? false : has('--color') ? true : undefined,
  };
}

/** What a command may touch: texts from schemas and file names cannot steer the terminal. */
export function ioFor(surroundings: Surroundings, manner: Manner): Io {
  const { stdout, stderr, isTerminal, isErrorTerminal } = surroundings;
  const columns = columnsOf(surroundings);
  const shown = (text: string, isToTerminal: boolean) => {
    const plain = visible(text, isColoured({ ...surroundings, ...manner }, isToTerminal));
    return isToTerminal ? wrapped(plain, columns) : plain;
  };
  const print = (text: string) => {
    stdout(shown(text, isTerminal));
  };
  return {
    ...surroundings,
    ...manner,
    print,
    note: manner.quiet ? () => undefined : print,
    stderr: (text) => {
      stderr(shown(text, isErrorTerminal));
    },
  };
}
