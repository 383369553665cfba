import js from '@eslint/js'
import importX from 'eslint-plugin-import-x'
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript'
import reactHooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

/** Rooms and what of ours each may import: the house plan of docs/architecture.md. */
const ROOMS = {
  core: [],
  contract: ['core'],
  standin: ['core', 'contract'],
  cli: ['core', 'contract', 'standin'],
  demo: ['core', 'contract'],
  server: ['core', 'contract', 'standin'],
  web: ['core', 'contract'],
  e2e: [],
  tools: ['core', 'contract', 'server'],
}

/** Ideas inside the core, in layers: each may import what stands before it and nothing after. */
const LAYERS = [
  'statistics',
  'units',
  'air',
  'cautions',
  'engine',
  'signals',
  'link',
  'reading',
  'waves',
  'expectation',
  'simulation',
  'diagnosis',
  'vacuum',
  'tracing',
  'deposits',
  'cleaning',
  'procedures',
  'proof',
  'visit',
]

const roomRules = Object.entries(ROOMS).map(([room, may]) => ({
  files: [`${room}/**/*.{ts,tsx}`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: Object.keys(ROOMS)
          .filter((other) => other !== room && !may.includes(other))
          .map((other) => ({
            group: [`@uvula/${other}`, `@uvula/${other}/*`, `**/../${other}/**`],
            message: `${room}/ does not import ${other}/`,
          })),
      },
    ],
  },
}))

const layerRules = LAYERS.map((idea, i) => {
  const later = LAYERS.slice(i + 1)
  // a simulator that shared the diagnosis's equations would flatter it
  const walled =
    idea === 'simulation' ? ['expectation'] : ['diagnosis', 'expectation'].includes(idea) ? ['simulation'] : []
  const forbidden = [...new Set([...later, ...walled])].map((x) => `../${x}/*`)
  return {
    files: [`core/src/${idea}/**/*.ts`],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            // the last idea may import every other
            ...(forbidden.length ? [{ group: forbidden, message: `${idea} stands below that in the core` }] : []),
            { group: ['@uvula/*'], message: 'the core imports nothing of ours' },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'process',
        'setTimeout',
        'setInterval',
        'performance',
        'fetch',
        'localStorage',
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random' },
        { object: 'Date', property: 'now' },
      ],
    },
  }
})

export default tseslint.config(
  { ignores: ['**/dist/**', 'server/bundle/**', 'node_modules/**', 'test-results/**', '.cache/**', 'data/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver-next': [
        createTypeScriptImportResolver({
          project: ['core/tsconfig.json', 'server/tsconfig.json', 'web/tsconfig.json'],
          noWarnOnMultipleProjects: true,
        }),
      ],
    },
    rules: {
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
    },
  },
  { files: ['server/**/*.ts'], rules: { '@typescript-eslint/consistent-type-imports': 'off' } },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': reactHooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    // a component that needs more is two, or a hook and one
    files: ['web/src/**/*.tsx'],
    ignores: ['**/*.test.tsx'],
    rules: { 'max-lines-per-function': ['error', { max: 150, IIFEs: true }] },
  },
  {
    files: ['**/*.mjs', '**/*.cjs', '**/*.config.{js,ts}'],
    languageOptions: {
      globals: {
        process: 'readonly',
        module: 'writable',
        console: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        fetch: 'readonly',
        performance: 'readonly',
      },
    },
  },
  ...roomRules,
  ...layerRules,
)
