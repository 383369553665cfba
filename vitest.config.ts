import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['{core,contract,standin,server,cli,demo,web}/src/**/*.test.ts'],
    testTimeout: 30_000,
    pool: 'forks',
    maxWorkers: 2,
  },
})
