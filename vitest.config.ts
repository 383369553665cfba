import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['{core,contract,standin,server,cli,demo,web}/src/**/*.test.ts'],
    testTimeout: 30_000,
    pool: 'forks',
    // one more than cores: the tests of the vehicle link mostly wait for real time to pass
    maxWorkers: 3,
  },
})
