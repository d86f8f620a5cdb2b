// What tests import from '@jest/globals'. Modules that several test files share get what belongs to the file that runs.
let current;

/** Says what the test file that comes next uses. */
export function useGlobals(globals) {
  current = globals;
}

const now = (name) =>
  new Proxy(() => undefined, {
    apply: (_target, _this, args) => current[name](...args),
    get: (_target, property) => current[name][property],
  });

export const afterAll = now('afterAll');
export const afterEach = now('afterEach');
export const beforeAll = now('beforeAll');
export const beforeEach = now('beforeEach');
export const describe = now('describe');
export const expect = now('expect');
export const test = now('test');
