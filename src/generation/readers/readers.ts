import type { Output } from '../shared/output.js';
import type { Framework, Style } from '../../base/styles.js';
import { addAngular } from './angular.js';
import { readingOf, type ReaderFunction } from './reading.js';
import { addReact } from './react.js';
import { addSenders } from './senders.js';
import { addVue } from './vue.js';

const writers: Readonly<Record<Framework, (output: Output, reading: ReaderFunction) => void>> = {
  react: addReact,
  vue: addVue,
  angular: addAngular,
};

/** Adds to the stores of a style the files through which components of frameworks read and change them. */
export function addReaders(output: Output, style: Style): void {
  addSenders(output, style);
  for (const framework of output.options.readers) writers[framework](output, readingOf(style));
}
