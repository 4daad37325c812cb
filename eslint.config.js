import js from '@eslint/js'
import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['**/dist/', 'web/drawn/', '**/node_modules/', '.data/', 'test-results/', 'playwright-report/'] },
  js.configs.recommended,
  ...tseslint.configs.recommendedTypeChecked,
  // Each part is read with its own types and no others: all at once take more memory than a small machine has.
  { languageOptions: { parserOptions: { project: './tsconfig.tools.json', tsconfigRootDir: import.meta.dirname } } },
  ...Object.entries({
    core: 'core/tsconfig.json',
    server: 'server/tsconfig.json',
    // With its tests: they use nearly all of it.
    web: 'web/tsconfig.lint.json',
    bench: 'bench/tsconfig.json',
  }).map(([part, project]) => ({
    files: [`${part}/**/*.ts`, `${part}/**/*.tsx`],
    ignores: [
      'core/src/**/*.test.ts',
      'core/src/**/testing/**',
      'server/test/**',
      'web/vite.config.ts',
      'web/recognitionFiles.ts',
      'web/deliver.ts',
      'web/vite.drawn.config.ts',
    ],
    languageOptions: { parserOptions: { project: `./${project}` } },
  })),
  {
    rules: {
      eqeqeq: 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { allowDefaultCaseForExhaustiveSwitch: true, considerDefaultExhaustiveForUnions: true },
      ],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
    },
  },
  // More than five things are given by their names. What a Nest class is given is counted by nobody who calls it.
  {
    files: ['core/src/**/*.ts', 'server/src/**/*.ts', 'web/src/**/*.ts', 'web/src/**/*.tsx'],
    ignores: ['server/src/**/*.controller.ts', 'server/src/**/*.gateway.ts', '**/*.test.ts', '**/testing/**'],
    rules: { 'max-params': ['error', 5] },
  },
  {
    files: ['web/**/*.tsx', 'web/**/*.ts'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  // The core has no I/O, no DOM and no clock of its own.
  {
    files: ['core/src/**/*.ts'],
    ignores: ['core/src/**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'fetch', 'process', 'setTimeout'],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now' },
        { object: 'Math', property: 'random' },
      ],
    },
  },
  // Answers over HTTP have no type; what is expected of them is said beside them.
  { files: ['**/test/**/*.ts', 'e2e/**/*.ts'], rules: { '@typescript-eslint/no-unsafe-assignment': 'off' } },
  {
    files: ['**/*.mjs', '**/*.js'],
    ...tseslint.configs.disableTypeChecked,
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
        Buffer: 'readonly',
        TextEncoder: 'readonly',
        TextDecoder: 'readonly',
        Response: 'readonly',
        structuredClone: 'readonly',
        globalThis: 'readonly',
        document: 'readonly',
      },
      parserOptions: { project: null, program: null },
    },
  },
)
