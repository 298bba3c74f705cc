import js from '@eslint/js';
import next from '@next/eslint-plugin-next';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

/**
 * The one way of imports. In the core each folder may import those before it in this list, and itself; `working` stands early
 * because every calculation writes one.
 */
const coreOrder = [
  'linear',
  'formulas',
  'model',
  'fields',
  'drawing',
  'working',
  'sequence',
  'assembly',
  'flow',
  'faults',
  'circuits',
  'ratings',
  'studies',
  'protection',
  'lowVoltage',
  'limits',
  'rules',
  'grading',
  'reach',
  'linePackage',
  'trials',
  'differential',
  'direct',
  'earthReturn',
  'proposals',
  'duty',
  'checks',
  'equipment',
  'switchboards',
  'formats',
  'reports',
  'sheets',
  'formulary',
  'batch',
  'scripts',
];

const coreDirections = coreOrder.map((folder, k) => ({
  files: [`core/src/${folder}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        paths: ['fs', 'path'],
        patterns: [
          {
            group: [
              ...[...coreOrder.slice(k + 1), 'test'].flatMap((later) => [`../${later}/**`, `../../${later}/**`]),
              // What is stored of the families' settings is part of the model; it stands in their folders.
              ...(folder === 'model' ? ['!../protection/schemas'] : []),
            ],
            message: `core/${folder} stands below that folder; see docs/architecture.md`,
          },
          {
            group: ['react', 'next/**', 'mysql2', 'node:*', '@mesura/**', 'd3'],
            message: 'the core knows no React, no database, no file system',
          },
        ],
      },
    ],
    'no-restricted-globals': ['error', 'window', 'document', 'process', 'Date', 'fetch', 'setTimeout'],
  },
}));

/** The same for the application; `server` stands beside them and takes only pure parts. */
const webOrder = [
  'theme',
  'plots',
  'project',
  'workers',
  'desk',
  'card',
  'diagram',
  'stages',
  'features',
  'shell',
  'app',
];

const direction = (files, group) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: {
    '@typescript-eslint/no-restricted-imports': [
      'error',
      { patterns: [{ group, allowTypeImports: true, message: 'imports run one way; see CONTRIBUTING.md' }] },
    ],
  },
});

const webDirections = [
  ...webOrder.slice(0, -1).map((folder, k) =>
    direction(
      [`web/${folder}/**`],
      [...webOrder.slice(k + 1), 'server'].flatMap((later) => [
        `../${later}/**`,
        `../../${later}/**`,
        `../../../${later}/**`,
      ]),
    ),
  ),
  direction(['web/server/**'], [...webOrder.slice(2).map((folder) => `../${folder}/**`), 'react', 'react-dom']),
  direction(['web/workers/coreService.ts', 'web/workers/core.worker.ts'], ['../**', 'react']),
];

export default ts.config(
  {
    ignores: [
      '**/node_modules/**',
      '**/.next/**',
      '.data/**',
      'web/next-env.d.ts',
      'test-results/**',
      'playwright-report/**',
      'web/server/programs/test/api.d.ts',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    rules: {
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'off',
    },
  },
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        fetch: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        AbortController: 'readonly',
        AbortSignal: 'readonly',
        TextDecoder: 'readonly',
        setTimeout: 'readonly',
        URL: 'readonly',
        Buffer: 'readonly',
        performance: 'readonly',
        // Inside functions that Playwright runs in the page.
        document: 'readonly',
        requestAnimationFrame: 'readonly',
      },
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks, '@next/next': next },
    rules: {
      ...hooks.configs.recommended.rules,
      ...next.configs.recommended.rules,
      '@next/next/no-html-link-for-pages': 'off',
    },
  },
  ...coreDirections,
  ...webDirections,
);
