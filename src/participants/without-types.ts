import { transform } from 'sucrase';
import type { ModuleText } from '../base/module-text.js';

/** What was made last: many folders have the same run time. */
const known = new Map<string, string>();
const mostKnown = 1000;

/** A TypeScript or JavaScript module as a script that takes `require` and `exports`. Throws what the parser does. */
export function withoutTypes({ path, text }: ModuleText): string {
  let code = known.get(text);
  if (code !== undefined) return code;
  ({ code } = transform(text, {
    transforms: ['typescript', 'imports'],
    disableESTransforms: true,
    filePath: path,
  }));
  if (known.size >= mostKnown) known.clear();
  known.set(text, code);
  return code;
}

/** Modules with their code made ready, for those who load them anew and anew. What cannot be parsed stays as it is. */
export function madeReady(modules: readonly ModuleText[]): readonly ModuleText[] {
  return modules.map((module) => {
    if (module.code !== undefined || !/\.[jt]s$/.test(module.path)) return module;
    try {
      return { ...module, code: withoutTypes(module) };
    } catch {
      return module;
    }
  });
}
