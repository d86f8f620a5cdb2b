// A test of the old days, for any runner.

import { Terminal } from '../../old/terminal';
import { label } from '../queue';

export function test(equal: (a: unknown, b: unknown) => void): void {
  const terminal = new Terminal(
    () => 'car-1',
    () => 0,
  );
  terminal.arrive('SK 104', 4.5, 'port');
  equal(terminal.cars.length, 1);
  equal(terminal.cars.map(label), ['SK 104 · 4.5 m · port']);
}
