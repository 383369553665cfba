/** Transformed to CommonJS: in the mode for native modules every global goes through an interceptor, ten times slower. */
const swc = (tsx) => [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx, decorators: true },
      transform: { legacyDecorator: true, decoratorMetadata: true, react: { runtime: 'automatic' } },
    },
    module: { type: 'commonjs' },
    sourceMaps: 'inline',
  },
]

const common = {
  testEnvironment: 'node',
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  moduleNameMapper: {
    '\\.css$': '<rootDir>/web/src/test/empty.ts',
    '^(\\.{1,2}/.*)\\.js$': ['$1.ts', '$1.tsx', '$1.js'],
  },
  transformIgnorePatterns: ['/node_modules/(?!@nestjs/|react-hotkeys-hook/)'],
  transform: { '\\.tsx$': swc(true), '\\.(ts|m?js)$': swc(false) },
}
/** What keeps to the clock: rows a second, pauses, retries, waits after a wrong PIN. Run after the others, which keep every core busy. */
const TIMED = ['access', 'link', 'gauges', 'transducer', 'together'].map((d) => `<rootDir>/server/src/${d}/`)
/** Asks for a PostgreSQL that runs: `npm run test:postgres`. */
const ELSEWHERE = '<rootDir>/server/src/database/postgres.test.ts'
const roots = (rooms) => rooms.map((d) => `<rootDir>/${d}/src`)

export default {
  testTimeout: 30_000,
  // one more than cores: the tests of the vehicle link mostly wait for real time to pass
  maxWorkers: 3,
  projects: [
    {
      ...common,
      displayName: 'work',
      roots: roots(['core', 'contract', 'standin', 'server', 'cli', 'demo']),
      testPathIgnorePatterns: ['/node_modules/', ELSEWHERE, ...TIMED],
      // what inner loops touch, as it is and not through the sandbox
      sandboxInjectedGlobals: [
        'Math',
        'Number',
        'Infinity',
        'Float64Array',
        'Uint8Array',
        'Array',
        'Object',
        'Map',
        'Set',
        'isFinite',
      ],
    },
    { ...common, displayName: 'web', roots: roots(['web']) },
    { ...common, displayName: 'timed', roots: TIMED },
  ],
}
