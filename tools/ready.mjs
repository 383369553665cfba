// Set-up that start and test share: installs what is missing, builds what is stale. Says what it does.
import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = fileURLToPath(new URL('..', import.meta.url))
const stamps = join(root, '.cache')

/** Runs a command to its end. @throws Error with the command when it fails */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options })
    child.on('error', reject)
    child.on('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`${command} ${args.join(' ')} ended with ${code}`)),
    )
  })
}

/** Path of a package's own command, run by this Node. */
export const bin = (path) => [process.execPath, join(root, 'node_modules', path)]

function filesUnder(dir, list = []) {
  for (const e of readdirSync(join(root, dir), { withFileTypes: true })) {
    const path = join(dir, e.name)
    if (e.isDirectory()) {
      if (!['dist', 'node_modules', 'test-results'].includes(e.name)) filesUnder(path, list)
    } else if (!/\.(test|fixture)\.ts$/.test(e.name)) list.push(path)
  }
  return list
}

/** Hash over names and contents of what a step depends on: a file that was only touched changes nothing. */
function stateOf(paths) {
  const hash = createHash('sha256')
  for (const p of paths.flatMap((x) => (statSync(join(root, x)).isDirectory() ? filesUnder(x) : [x])).sort())
    hash.update(`${p}\n`).update(readFileSync(join(root, p)))
  return hash.digest('hex')
}

function isFresh(name, state) {
  const file = join(stamps, name)
  return existsSync(file) && readFileSync(file, 'utf8') === state
}

function stamp(name, state) {
  mkdirSync(stamps, { recursive: true })
  writeFileSync(join(stamps, name), state)
}

async function step(name, inputs, outputs, say, work) {
  const state = stateOf(inputs)
  if (isFresh(name, state) && outputs.every((o) => existsSync(join(root, o)))) return
  say(name)
  const began = Date.now()
  await work()
  stamp(name, stateOf(inputs))
  say(`${name}: ${((Date.now() - began) / 1000).toFixed(0)} s`)
}

const CORE = ['core/src', 'contract/src', 'tsconfig.base.json']

/** Installs and builds what is missing or stale. */
export async function ensureReady({ quiet = false } = {}) {
  const say = quiet ? () => undefined : (text) => console.log(`  ${text}`)
  await step(
    'install packages',
    ['package-lock.json'],
    ['node_modules/.bin/tsc', 'node_modules/better-sqlite3/build/Release/better_sqlite3.node'],
    say,
    () =>
      run(
        'npm',
        ['ci', '--no-audit', '--no-fund', '--loglevel=error'],
        quiet ? { stdio: ['ignore', 'ignore', 'inherit'] } : {},
      ),
  )
  const [node, tsc] = bin('typescript/bin/tsc')
  await step(
    'build core, server, command and tools',
    [...CORE, 'standin/src', 'server/src', 'cli/src', 'demo/src', 'tools/src'],
    ['server/dist/main.js', 'cli/dist/main.js', 'demo/dist/build.js', 'tools/dist/test.js'],
    say,
    () => run(node, [tsc, '-b'], { stdio: quiet ? ['ignore', 'ignore', 'inherit'] : 'inherit' }),
  )
  const [, vite] = bin('vite/bin/vite.js')
  await step(
    'gather the server',
    [...CORE, 'standin/src', 'server/src', 'server/vite.config.ts', 'package-lock.json'],
    ['server/bundle/main.js'],
    say,
    () => run(node, [vite, 'build', 'server', '--logLevel', 'warn', '--config', 'server/vite.config.ts']),
  )
  if (quiet) return
  await step(
    'build the interface',
    [...CORE, 'web/src', 'web/public', 'web/index.html', 'web/vite.config.ts'],
    ['web/dist/index.html'],
    say,
    () => run(node, [vite, 'build', 'web', '--logLevel', 'warn', '--config', 'web/vite.config.ts']),
  )
  await step('make the demo shop', [...CORE, 'demo/src'], ['demo/dist/demo-shop.json'], say, () =>
    run(node, ['demo/dist/build.js']),
  )
}
