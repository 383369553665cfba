// npm run test:postgres: a PostgreSQL of its own, as Debian's packages bring it, the server's tests on it, and away again.
import { spawnSync } from 'node:child_process'
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { bin, root } from '../ready.mjs'
import { freePort } from './free-port.js'

const LIB = '/usr/lib/postgresql'

/** Folder of the programs of the newest one that is installed. */
function programs(): string | undefined {
  const versions = existsSync(LIB) ? readdirSync(LIB).sort((a, b) => Number(b) - Number(a)) : []
  return versions.map((v) => join(LIB, v, 'bin')).find((bin) => existsSync(join(bin, 'initdb')))
}

/** It refuses to run as root: then its own user runs it. */
function whoRuns(): { readonly uid: number; readonly gid: number } | undefined {
  if (process.getuid?.() !== 0) return undefined
  const id = (flag: string): number => Number(spawnSync('id', [flag, 'postgres'], { encoding: 'utf8' }).stdout)
  return { uid: id('-u'), gid: id('-g') }
}

/**
 * Starts a PostgreSQL on a free port of this computer in a folder of its own.
 * @returns its address and how it is ended; undefined where none is installed
 */
export async function startPostgres(): Promise<{ readonly url: string; end(): void } | undefined> {
  const bin = programs()
  if (!bin) return undefined
  const who = whoRuns()
  const dir = mkdtempSync(join(tmpdir(), 'uvula-postgres-'))
  if (who) chownSync(dir, who.uid, who.gid)
  const run = (program: string, ...args: string[]): void => {
    // what it starts in the background must not hold on to this process's pipes
    const r = spawnSync(join(bin, program), args, {
      ...who,
      cwd: dir,
      stdio: 'ignore',
      env: { ...process.env, LC_ALL: 'C.UTF-8' },
    })
    if (r.status !== 0) throw new Error(`${program} ended with ${r.status ?? String(r.error)}`)
  }
  const port = await freePort()
  const data = join(dir, 'data')
  const where = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=${dir}`
  try {
    run('initdb', '-D', data, '-U', 'uvula', '-A', 'trust', '-E', 'UTF8')
    run('pg_ctl', '-D', data, '-w', '-l', join(dir, 'log'), '-o', where, 'start')
  } catch (e) {
    rmSync(dir, { recursive: true, force: true })
    throw e
  }
  return {
    url: `postgres://uvula@127.0.0.1:${port}/postgres`,
    end: () => {
      run('pg_ctl', '-D', data, '-m', 'immediate', 'stop')
      rmSync(dir, { recursive: true, force: true })
    },
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const postgres = await startPostgres()
  if (postgres) {
    const { status } = spawnSync(
      process.execPath,
      [bin('jest/bin/jest.js')[1], '--config', 'jest.postgres.config.js', ...process.argv.slice(2)],
      {
        cwd: root,
        stdio: 'inherit',
        env: { ...process.env, UVULA_TEST_POSTGRES: postgres.url },
      },
    )
    postgres.end()
    process.exitCode = status ?? 1
  } else console.log(`SKIPPED, NOT TESTED: no PostgreSQL is installed here (${LIB}); Debian's package is "postgresql".`)
}
