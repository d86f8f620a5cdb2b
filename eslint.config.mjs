import js from '@eslint/js';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      'dist/',
      'node_modules/',
      'coverage/',
      '.cache/',
      'examples/',
      'test/old-stores/',
      'src/language/check/format-validator.js',
      'src/language/check/format-validator.d.ts',
    ],
  },
  js.configs.recommended,
  {
    files: ['**/*.ts'],
    extends: [tseslint.configs.recommendedTypeChecked],
    languageOptions: {
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_' },
      ],
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { allowDefaultCaseForExhaustiveSwitch: false },
      ],
      '@typescript-eslint/consistent-type-imports': 'off',
      // A refusal is an answer, thrown to leave a transaction; it is caught where that began.
      '@typescript-eslint/only-throw-error': ['error', { allow: ['Refusal', 'NothingThere'] }],
      'max-lines': ['warn', { max: 300, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    // The parser knows many kinds of nodes that no expression of a schema has.
    files: ['src/language/check/infer/{infer,patterns}.ts'],
    rules: {
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
    },
  },
  {
    // Tests evaluate generated code on purpose.
    files: ['test/**'],
    rules: {
      '@typescript-eslint/no-implied-eval': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
      '@typescript-eslint/unbound-method': 'off',
    },
  },
  {
    files: ['scripts/**', '*.mjs', 'bin/**', 'bench/**/*.mjs', 'test/run/**'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        performance: 'readonly',
        URL: 'readonly',
        Response: 'readonly',
        require: 'readonly',
        module: 'writable',
        setTimeout: 'readonly',
      },
    },
  },
  {
    // Pages of the tests.
    files: ['test/fixtures/readers/**'],
    languageOptions: {
      globals: {
        console: 'readonly',
        document: 'readonly',
        performance: 'readonly',
        process: 'readonly',
        setTimeout: 'readonly',
      },
    },
    rules: { 'require-yield': 'off' },
  },
);
