export default {
  testEnvironment: 'node',
  roots: [
    '<rootDir>/core/src',
    '<rootDir>/contract/src',
    '<rootDir>/server/src',
    '<rootDir>/cli/src',
    '<rootDir>/demo/src',
  ],
  testMatch: ['**/*.test.ts'],
  extensionsToTreatAsEsm: ['.ts'],
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': '$1' },
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', decorators: true },
          transform: { legacyDecorator: true, decoratorMetadata: true },
          target: 'es2022',
          keepClassNames: true,
        },
        module: { type: 'es6' },
      },
    ],
  },
  maxWorkers: 2,
  testTimeout: 30_000,
}
