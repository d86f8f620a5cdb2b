import { Terminal } from '../old/terminal';
import { createStores } from './stores/proxy/index';

let count = 0;

export const terminal = new Terminal(
  () => `car-${(count += 1)}`,
  () => Date.now(),
);

export const { stores, whenChanged } = createStores();
