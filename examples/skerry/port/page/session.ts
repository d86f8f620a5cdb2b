import { Terminal } from '../old/terminal';

let count = 0;

export const terminal = new Terminal(
  () => `car-${(count += 1)}`,
  () => Date.now(),
);
