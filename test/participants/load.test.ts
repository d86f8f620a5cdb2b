import { describe, expect, test } from '@jest/globals';
import { LoadError } from '../../src/participants/load-error.js';
import { loadModules } from '../../src/participants/load-modules.js';

describe('loading modules', () => {
  test('takes TypeScript that imports only each other, rings included', () => {
    const exports = loadModules(
      [
        {
          path: 'index.ts',
          text: 'import { twice, type N } from "./twice.js";\nexport const one: N = 1;\nexport const two = () => twice();',
        },
        {
          path: 'twice.ts',
          text: 'import { one } from "./index.js";\nexport type N = number;\nexport const twice = (): N => one * 2;',
        },
      ],
      'index.ts',
    );
    expect((exports.two as () => number)()).toBe(2);
  });

  test('loads everything anew each time', () => {
    const modules = [{ path: 'index.ts', text: 'export const own = {};' }];
    expect(loadModules(modules, 'index.ts').own).not.toBe(loadModules(modules, 'index.ts').own);
  });

  test('values are of this very realm', () => {
    const { own } = loadModules(
      [{ path: 'index.ts', text: 'export const own = [{}];' }],
      'index.ts',
    );
    expect(own).toBeInstanceOf(Array);
    expect(Object.getPrototypeOf((own as object[])[0])).toBe(Object.prototype);
  });

  test.each([
    ['what is no TypeScript', 'export const {', /index\.ts cannot be loaded: /],
    [
      'what throws while it is loaded',
      'throw new Error("at once");',
      /index\.ts cannot be loaded: at once/,
    ],
    [
      'an import that is not there',
      'import "./other.js";',
      /other\.ts cannot be loaded: there is no such file/,
    ],
    [
      'an import from elsewhere',
      'import "node:fs";',
      /node:fs cannot be loaded: there is no such file/,
    ],
  ])('says where %s is', (_what, text, message) => {
    const load = () => loadModules([{ path: 'index.ts', text }], 'index.ts');
    expect(load).toThrow(LoadError);
    expect(load).toThrow(message);
  });
});
