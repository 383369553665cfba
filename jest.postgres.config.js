import base from './jest.config.js'

/** Tests of the server that go through its harness, on a real PostgreSQL instead of a file, and those of PostgreSQL alone. */
const [work] = base.projects
const FILES = [
  'server',
  'nouns',
  'writes',
  'remedies',
  'sound',
  'garage',
  'learning',
  'search',
  'fuzz',
  'database/postgres',
].map((name) => `<rootDir>/server/src/${name}.test.ts`)

export default {
  ...work,
  displayName: 'postgres',
  testTimeout: 60_000,
  maxWorkers: 2,
  roots: ['<rootDir>/server/src'],
  testMatch: FILES,
  testPathIgnorePatterns: ['/node_modules/'],
}
