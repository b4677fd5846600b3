import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Names that pure code must not touch: the machine, the page, the clock and chance are parameters there. */
const impure = [
  'window',
  'document',
  'process',
  'Buffer',
  'setTimeout',
  'setInterval',
  'setImmediate',
  'performance',
  'fetch',
  'navigator',
  'localStorage',
  'crypto',
  'console',
];

export default ts.config(
  { ignores: ['node_modules/', '.svelte-kit/', 'build/', 'data/', 'src/db/migrations/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  { languageOptions: { globals: { ...globals.node, ...globals.browser } } },
  {
    files: ['**/*.ts', '**/*.svelte', '**/*.svelte.ts'],
    languageOptions: {
      parserOptions: { projectService: true, extraFileExtensions: ['.svelte'], parser: ts.parser, svelteConfig },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': [
        'error',
        {
          allowForKnownSafeCalls: [
            { from: 'package', package: 'node:test', name: ['test', 'describe', 'it', 'suite', 'before', 'after'] },
          ],
        },
      ],
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { arguments: false, attributes: false, properties: false } },
      ],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-empty-object-type': 'off',
      '@typescript-eslint/no-namespace': 'off',
      'no-undef': 'off',
      'no-self-compare': 'off',
      'svelte/no-navigation-without-resolve': 'off',
      'svelte/prefer-svelte-reactivity': 'off',
      // There are no stores here, and looking for them by type takes a third of all linting.
      'svelte/require-store-reactive-access': 'off',
      eqeqeq: ['error', 'always'],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...impure.map((name) => ({ name, message: 'core is pure: take it as a parameter' })),
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'core is pure: time is a parameter',
        },
        {
          selector: "MemberExpression[object.name='Date'][property.name='now']",
          message: 'core is pure: time is a parameter',
        },
        {
          selector: "MemberExpression[object.name='Math'][property.name='random']",
          message: 'core is pure: randomness comes from a seed',
        },
      ],
    },
  },
);
