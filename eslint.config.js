// @ts-check
import eslint from '@eslint/js';
import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

const noAmbientTime = [
  { selector: "MemberExpression[object.name='Date'][property.name='now']", message: 'Take the time from a Clock.' },
  { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Take the time from a Clock.' },
  {
    selector: "MemberExpression[object.name='Math'][property.name='random']",
    message: 'Take a seeded random as argument.',
  },
];

/** Where the words of the interface are, so that they can be put into another language. */
const textsRule = 'What is said on screen stands in the texts.ts of its room.';

/** What a package may not import: the direction of imports in docs/architecture.md. */
const onlyImports = (files, patterns) => ({
  files,
  rules: { 'no-restricted-imports': ['error', { patterns: patterns.map(([group, message]) => ({ group, message })) }] },
});
const deep = [['@baton/*/*'], 'Import a package by its public face, not by a path inside it.'];
const drizzle = [['drizzle-orm', 'drizzle-orm/*', 'pg'], 'Only store/ speaks SQL.'];

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.baton/**',
      'packages/web/vitest.web.config.ts',
      '**/.angular/**',
      'test-results/**',
      'playwright-report/**',
    ],
  },
  eslint.configs.recommended,
  ...tseslint.configs.recommended,
  ...tseslint.configs.stylistic,
  {
    files: ['**/*.ts'],
    rules: {
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
      'max-lines-per-function': ['error', { max: 60, skipBlankLines: true, skipComments: true }],
      'no-restricted-syntax': ['error', ...noAmbientTime],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
    },
  },
  {
    // What only types can tell: a promise that nobody waits for, a kind that nobody handles.
    files: ['packages/**/*.ts', 'e2e/**/*.ts', 'bench/**/*.ts', 'torture/**/*.ts', 'servers/**/*.ts'],
    languageOptions: {
      parserOptions: {
        project: ['./tsconfig.json', './packages/web/tsconfig.app.json', './packages/web/tsconfig.spec.json'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { arguments: false, attributes: false } },
      ],
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
    },
  },
  {
    // Inner loops over typed arrays, where every index is in bounds by construction.
    files: ['packages/core/src/planning/**/*.ts'],
    rules: { '@typescript-eslint/no-non-null-assertion': 'off' },
  },
  onlyImports(
    ['packages/core/src/**/*.ts'],
    [
      [
        ['@baton/*', 'node:*', 'pg', 'koa', '@angular/*', 'drizzle-orm', 'rxjs'],
        'core imports nothing of ours and does no I/O.',
      ],
    ],
  ),
  // Tests of core read files: the pages that must agree with it.
  onlyImports(
    ['packages/core/src/**/*.spec.ts'],
    [[['@baton/*', 'pg', 'koa', '@angular/*', 'drizzle-orm', 'rxjs'], 'core imports nothing of ours.']],
  ),
  onlyImports(
    ['packages/contract/src/**/*.ts'],
    [[['@baton/server', '@baton/simulator', '@baton/web', 'node:*'], 'contract knows core only.'], deep],
  ),
  onlyImports(
    ['packages/simulator/src/**/*.ts'],
    [[['@baton/server', '@baton/web', '@baton/contract'], 'The simulator is reached through sockets only.'], deep],
  ),
  onlyImports(
    ['packages/web/src/**/*.ts'],
    [[['@baton/server', '@baton/simulator', 'node:*'], 'web speaks to the server over HTTP.'], deep],
  ),
  onlyImports(
    ['packages/server/src/**/*.ts'],
    [[['@baton/web', '@baton/simulator'], 'The server reaches the simulator through sockets only.'], deep, drizzle],
  ),
  onlyImports(
    ['packages/server/src/store/**/*.ts'],
    [[['@baton/web', '@baton/simulator'], 'The server reaches the simulator through sockets only.'], deep],
  ),
  // Tests start a simulator of their own, then reach it through sockets too.
  onlyImports(['packages/server/src/**/*.spec.ts', 'packages/server/src/testing/**/*.ts'], [deep]),
  {
    files: ['**/*.spec.ts', '**/testing/**/*.ts', 'e2e/**/*.ts', 'bench/**/*.ts', 'torture/**/*.ts', 'servers/**/*.ts'],
    rules: { 'max-lines-per-function': 'off', 'max-lines': ['error', { max: 500 }] },
  },
  {
    files: ['packages/*/src/main.ts', 'packages/*/src/time/system-clock.ts', 'bench/**/*.ts', 'e2e/**/*.ts'],
    rules: { 'no-restricted-syntax': 'off' },
  },
  {
    files: ['packages/web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: { '@angular-eslint/prefer-on-push-component-change-detection': 'error' },
  },
  {
    files: ['packages/web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
  {
    files: ['packages/web/src/app/**/*.html'],
    ignores: ['**/*.spec.ts/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'Text[value=/[A-Za-z]{2}/]', message: textsRule },
        {
          selector: 'TextAttribute[name=/^(aria-label|title|placeholder|alt|label)$/][value=/[A-Za-z]{2}/]',
          message: textsRule,
        },
        { selector: 'Binary[operation=/^[-+*\\/]$/]', message: 'Templates read; compute it in the component.' },
        { selector: 'Call[receiver.name="$any"]', message: 'Give the template the type that it needs.' },
      ],
    },
  },
  {
    files: ['**/*.mjs', '**/*.js'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
        Buffer: 'readonly',
        AbortSignal: 'readonly',
      },
    },
  },
);
