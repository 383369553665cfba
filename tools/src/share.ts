// The share of tests in the TypeScript, by lines that hold something.
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from '../ready.mjs'

/** "tests are 27 % of 12,345 lines" */
export function testShare(): string {
  const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard', '*.ts', '*.tsx'], {
    cwd: root,
    encoding: 'utf8',
  })
    .split('\n')
    .filter(Boolean)
  const lines = (list: readonly string[]): number =>
    list.reduce(
      (n, f) =>
        n +
        readFileSync(join(root, f), 'utf8')
          .split('\n')
          .filter((l) => l.trim()).length,
      0,
    )
  const isTest = (f: string): boolean => /\.(test|spec)\.tsx?$/.test(f) || f.startsWith('e2e/')
  const tests = lines(files.filter(isTest))
  const all = lines(files)
  return `tests are ${((100 * tests) / all).toFixed(0)} % of ${all.toLocaleString('en')} lines of TypeScript`
}
