import { expect, test } from '@jest/globals';
import { Linter } from 'eslint';
import hooks from 'eslint-plugin-react-hooks';
import { parser } from 'typescript-eslint';
import { allStyles, foldersOf, harbourModel } from '../helpers.js';

/** What React's own rules, those of its compiler among them, say of a module: each as `line rule`. */
function said(text: string): string[] {
  const { rules } = hooks.configs['recommended-latest'];
  const found = new Linter().verify(
    text,
    {
      files: ['**/*.ts'],
      languageOptions: { parser: parser },
      plugins: { 'react-hooks': hooks as never },
      rules: rules,
      linterOptions: { noInlineConfig: true },
    },
    'react.ts',
  );
  return found.map(({ line, ruleId, message }) => `${line} ${ruleId ?? message}`);
}

test("readers for React pass the framework's own rules, so that its compiler takes them", async () => {
  const folders = await foldersOf(await harbourModel(), allStyles, { readers: ['react'] });
  const complaints = folders.map(({ files }) => {
    const text = files.find(({ path }) => path === 'react.ts')?.text ?? '';
    expect(text).toContain('function useReading');
    return said(text);
  });
  expect(complaints).toEqual([[], [], [], []]);
});

test('these rules find a reference that is read while drawing', () => {
  const text = `import { useRef } from 'react';
export function useLast(value: number): number {
  const last = useRef(0);
  const before = last.current;
  last.current = value;
  return before;
}`;
  expect(said(text)).toContainEqual(expect.stringContaining('react-hooks/refs'));
});
