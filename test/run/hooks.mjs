// How Node imports TypeScript: types are taken out, and lines stay where they are.
import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { transform } from 'sucrase';

const globals = new URL('globals.mjs', import.meta.url).href;

export function resolve(specifier, context, next) {
  if (specifier === '@jest/globals') return { url: globals, shortCircuit: true };
  if (/^\.\.?\/.*\.js$/.test(specifier) && context.parentURL?.includes('.ts')) {
    const url = new URL(specifier.replace(/\.js$/, '.ts'), context.parentURL);
    if (existsSync(url)) return { url: url.href, shortCircuit: true };
  }
  return next(specifier, context);
}

export function load(url, context, next) {
  const { pathname } = new URL(url);
  if (!url.startsWith('file:') || !pathname.endsWith('.ts')) return next(url, context);
  const filePath = fileURLToPath(new URL(pathname, url));
  const { code } = transform(readFileSync(filePath, 'utf8'), {
    transforms: ['typescript'],
    disableESTransforms: true,
    filePath,
  });
  return { format: 'module', source: code, shortCircuit: true };
}
