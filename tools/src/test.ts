// npm test: set-up, type check, lint, unit, API and browser tests; the test share; last line "N passed, N failed".
import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { bin, root, run } from '../ready.mjs'
import { ensureChromium } from './chromium.js'
import { testShare } from './share.js'
import type { JSONReport, JSONReportSpec, JSONReportSuite } from '@playwright/test/reporter'

const [node] = bin('')
/** Of the process: what is missing was set up before this file was read. */
const started = performance.timeOrigin
let passed = 0
let failed = 0

const exitOf = (args: readonly string[], env: NodeJS.ProcessEnv = {}): Promise<number> =>
  new Promise((resolve) => {
    const child = spawn(node, args, { cwd: root, stdio: 'inherit', env: { ...process.env, NO_COLOR: '1', ...env } })
    child.on('exit', (code) => resolve(code ?? 1))
  })

/** A check counts as one test. */
async function check(name: string, work: () => Promise<void>): Promise<void> {
  const began = Date.now()
  try {
    await work()
    passed++
    console.log(`ok ${name} (${((Date.now() - began) / 1000).toFixed(0)} s)`)
  } catch (e) {
    failed++
    console.log(`not ok ${name}: ${e instanceof Error ? e.message : String(e)}`)
  }
}

/** What failed, told again at the end: it may be all that is left of a long log. */
const why: string[] = []

function readCounts<T>(
  file: string,
  count: (results: T) => [passed: number, failed: number],
  failures: (results: T) => [title: string, message: string][],
): void {
  if (!existsSync(file)) {
    failed++
    return console.log(`not ok: ${file} was not written`)
  }
  const results = JSON.parse(readFileSync(file, 'utf8')) as T
  const [p, f] = count(results)
  passed += p
  failed += f
  for (const [title, message] of failures(results))
    // eslint-disable-next-line no-control-regex -- colours of a terminal
    why.push(`not ok ${title}\n${message.replace(/\x1b\[[0-9;]*m/g, '').slice(0, 1500)}`)
}

/** Of what Jest writes, what is read here. */
interface JestResults {
  readonly numPassedTests: number
  readonly numFailedTests: number
  readonly success: boolean
  readonly testResults: readonly {
    readonly name: string
    readonly status: string
    readonly message: string
    readonly assertionResults: readonly {
      readonly status: string
      readonly fullName: string
      readonly failureMessages: readonly string[]
    }[]
  }[]
}

const ofJest = (r: JestResults): [string, string][] =>
  r.testResults.flatMap((file): [string, string][] =>
    file.status === 'failed' && !file.assertionResults.some((t) => t.status === 'failed')
      ? [[file.name, file.message]]
      : file.assertionResults
          .filter((t) => t.status === 'failed')
          .map((t): [string, string] => [t.fullName, t.failureMessages.join('\n')]),
  )

const ofBrowser = (r: JSONReport): [string, string][] => {
  const specs = (suite: JSONReportSuite): JSONReportSpec[] => [
    ...(suite.specs ?? []),
    ...(suite.suites ?? []).flatMap(specs),
  ]
  return r.suites
    .flatMap(specs)
    .filter((s) => s.tests.some((t) => t.status === 'unexpected'))
    .map((s): [string, string] => [
      `${s.file} ${s.title}`,
      s.tests.flatMap((t) => t.results.flatMap((x) => x.errors.map((e) => e.message))).join('\n'),
    ])
}

await ensureChromium()
const bootstrapped = Date.now()

// side by side: each keeps one core busy for a while
await Promise.all([
  check('types', async () => {
    await run(node, [bin('typescript/bin/tsc')[1], '-p', 'web'])
    await run(node, [bin('typescript/bin/tsc')[1], '-p', 'web/src/offline'])
    await run(node, [bin('typescript/bin/tsc')[1], '-p', 'tsconfig.tests.json'])
  }),
  check('lint', () => run(node, [bin('eslint/bin/eslint.js')[1], '.', '--max-warnings', '0'])),
  check('format', () => run(node, [bin('prettier/bin/prettier.cjs')[1], '--check', '--log-level', 'warn', '.'])),
])

const results = join(root, 'test-results')
rmSync(results, { recursive: true, force: true })
mkdirSync(results, { recursive: true })
// what keeps to the clock comes after what keeps every core busy
for (const [name, projects] of [
  ['unit', ['work', 'web']],
  ['timed', ['timed']],
] as const) {
  const file = join(results, `${name}.json`)
  await exitOf([bin('jest/bin/jest.js')[1], '--selectProjects', ...projects, '--json', `--outputFile=${file}`])
  readCounts<JestResults>(
    file,
    (r) => [r.numPassedTests, r.numFailedTests + (r.success || r.numFailedTests ? 0 : 1)],
    ofJest,
  )
}

const browserFile = join(results, 'browser.json')
await exitOf([bin('@playwright/test/cli.js')[1], 'test', '--config', 'e2e/playwright.config.ts'], {
  PLAYWRIGHT_JSON_OUTPUT_NAME: browserFile,
})
readCounts<JSONReport>(browserFile, (r) => [r.stats.expected + r.stats.flaky, r.stats.unexpected], ofBrowser)

for (const w of why) console.log(w)
console.log(testShare())
console.log(
  `set-up ${((bootstrapped - started) / 1000).toFixed(0)} s, tests ${((Date.now() - bootstrapped) / 1000).toFixed(0)} s`,
)
console.log(`${passed} passed, ${failed} failed`)
process.exitCode = failed === 0 && passed > 0 ? 0 : 1
