import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import { allStyles, foldersOf, modelOf, root } from '../helpers.js';

const undo = readFileSync(new URL('test/fixtures/undo.stores.yaml', root), 'utf8');

interface App {
  readonly subscribe: (changed: () => void) => () => void;
}
type Senders = Readonly<Record<string, Readonly<Record<string, (payload?: unknown) => object>>>>;

test.each(allStyles)(
  'with readers, %s stores call back once after each change of anything, a history included',
  async (style) => {
    const [folder] = await foldersOf(await modelOf(undo), [style], { readers: ['react'] });
    const files = (folder?.files ?? []).filter(({ path }) => path !== 'react.ts');
    const index = loadModules(files, 'index.ts') as { createStores: (options: object) => App };
    const senders = loadModules(files, 'senders.ts') as { sendersOf: (app: App) => Senders };
    const waits = () => new Promise(() => {});
    const app = index.createStores({ services: { office: { book: waits } } });
    const { lanes, gate } = senders.sendersOf(app);
    let count = 0;
    const stop = app.subscribe(() => (count += 1));
    const counted = (act: () => unknown) => {
      const before = count;
      act();
      return count - before;
    };
    expect(counted(() => lanes?.['note']?.('lorries'))).toBe(1);
    expect(counted(() => lanes?.['note']?.('lorries'))).toBe(0);
    expect(counted(() => lanes?.['admit']?.({ plate: 'SK 104', lengthM: 30, lane: 1 }))).toBe(0);
    expect(counted(() => lanes?.['forget']?.())).toBe(1);
    expect(counted(() => gate?.['book']?.('SK 104'))).toBe(1);
    stop();
    expect(counted(() => lanes?.['note']?.('cars'))).toBe(0);
  },
);
