import { MissingPackage } from '../base/missing-package.js';

/**
 * Loads a stage that uses the TypeScript compiler. Applications in TypeScript have it; it is not installed with
 * Leeshore, since it would be most of its size. Throws {@link MissingPackage} where there is none, or one without the
 * functions that are needed.
 */
export async function withCompiler<T>(load: () => Promise<T>): Promise<T> {
  const missing = new MissingPackage('typescript', 'version 5.4 to 6');
  const compiler = await import('typescript').catch(() => undefined);
  if (typeof compiler?.default?.createProgram !== 'function') throw missing;
  return load();
}
