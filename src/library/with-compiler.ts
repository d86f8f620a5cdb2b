import { MissingPackage } from '../base/missing-package.js';

/**
 * Loads a stage that uses the TypeScript compiler. Applications in TypeScript have it; it is not installed with
 * Leeshore, since it would be most of its size. Throws {@link MissingPackage} where there is none, or one without the
 * functions that are needed.
 */
export async function withCompiler<T>(load: () => Promise<T>): Promise<T> {
  const compiler = await import('typescript').catch(() => undefined);
  if (typeof compiler?.default?.createProgram === 'function') return load();
  throw compiler?.default === undefined
    ? new MissingPackage('typescript', 'version 5.4 to 6', 'typescript@6')
    : new MissingPackage(
        'typescript-6',
        'version 6 beside a newer one',
        'typescript-6@npm:typescript@6',
      );
}
