// Test files are imported by Node itself, not into a sandbox of their own: the sources, the built program, the compiler
// and the bundler are loaded once for all files that a worker of Jest runs, and run as fast as they do for users.
const { register } = require('node:module');
const { pathToFileURL } = require('node:url');
const { default: Runtime } = require('jest-runtime');

const beside = (name) => pathToFileURL(require.resolve(name)).href;
register(beside('./hooks.mjs'));

let runs = 0;

module.exports = class extends Runtime {
  #globals;

  constructor(config, environment, ...more) {
    super(config, environment, ...more);
    // Jest itself stands in the sandbox: for expect.any(Number) and the like it needs what the tests have.
    for (const name of Object.getOwnPropertyNames(globalThis))
      if (/^[A-Z]/.test(name) && typeof globalThis[name] === 'function')
        environment.global[name] = globalThis[name];
  }

  setGlobalsForRuntime(globals) {
    super.setGlobalsForRuntime(globals);
    this.#globals = globals;
  }

  unstable_shouldLoadAsEsm() {
    return true;
  }

  /** Imports a test file, anew each time: a file may be run again. */
  async unstable_importModule(path) {
    const { useGlobals } = await import(beside('./globals.mjs'));
    useGlobals(this.#globals);
    return import(`${pathToFileURL(path).href}?run=${(runs += 1)}`);
  }
};
