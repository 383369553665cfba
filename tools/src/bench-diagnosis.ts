// npm run bench:diagnosis [-- CASES [SEED]]: the diagnosis on simulated cases that do not share its equations.
import { fork } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { root } from '../ready.mjs'
import type { Diagnosed } from './diagnosis-bench/diagnosed.js'
import { judge, type Signatures } from './diagnosis-bench/identify.js'
import { KINDS } from './diagnosis-bench/population.js'
import {
  calibration,
  firstRight,
  inFirstThree,
  inFirstTwo,
  share,
  sizes,
  type Figure,
  type Scored,
} from './diagnosis-bench/score.js'
import type { Given, Sort, Task } from './diagnosis-bench/worker.js'

const CASES = Number(process.argv[2] ?? 2000)
const SEED = Number(process.argv[3] ?? 1)

/** Works a list of tasks off in as many processes as there are cores. */
async function work<T>(tasks: readonly Task[], tell?: (at: number) => void): Promise<T[]> {
  const out = new Array<T>(tasks.length)
  let next = 0
  await Promise.all(
    Array.from({ length: availableParallelism() }, async () => {
      const child = fork(join(root, 'tools/dist/diagnosis-bench/worker.js'))
      const message = (): Promise<{ answer: T }> =>
        new Promise((resolve, reject) => {
          child.once('message', (m) => resolve(m as { answer: T }))
          child.once('exit', () => reject(new Error('a process of the bench ended early')))
        })
      await message()
      while (next < tasks.length) {
        const at = next++
        child.send(tasks[at])
        out[at] = (await message()).answer
        child.removeAllListeners('exit')
        tell?.(at)
      }
      child.kill()
    }),
  )
  return out
}
const say = (text: string): boolean => process.stderr.write(`${text}\n`)

/** What depends on the simulator and the files of the bench alone is kept until they change. */
function hashOfSources(): string {
  const hash = createHash('sha256')
  for (const dir of ['core/dist/simulation', 'core/dist/signals', 'core/dist/engine'])
    for (const f of readdirSync(join(root, dir)).sort())
      if (f.endsWith('.js')) hash.update(readFileSync(join(root, dir, f)))
  // how points are taken from a recording, and merged
  for (const f of ['fromRecording.js', 'evidence.js']) hash.update(readFileSync(join(root, 'core/dist/diagnosis', f)))
  for (const f of ['classes.js', 'population.js', 'identify.js', 'worker.js'])
    hash.update(readFileSync(join(root, 'tools/dist/diagnosis-bench', f)))
  return hash.digest('hex').slice(0, 12)
}
const HASH = hashOfSources()

/** Lines of a kept file, or what `make` gives, which is kept then. */
async function kept<T>(name: string, make: () => Promise<T[]>): Promise<T[]> {
  const path = join(root, '.cache', `bench-${name}-${HASH}.jsonl`)
  if (!existsSync(path)) {
    mkdirSync(join(root, '.cache'), { recursive: true })
    // what an older simulator gave is of no use any more
    for (const f of readdirSync(join(root, '.cache')))
      if (f.startsWith('bench-') && !f.endsWith(`-${HASH}.jsonl`)) rmSync(join(root, '.cache', f))
    writeFileSync(path, (await make()).map((x) => JSON.stringify(x)).join('\n'))
  }
  return readFileSync(path, 'utf8')
    .split('\n')
    .map((line) => JSON.parse(line) as T)
}

const kinds = Object.keys(KINDS)
const tables = await kept<Signatures>('signatures', () => {
  say('scatter of sound engines and signatures of the faults')
  return work(
    kinds.map((kind) => ({ task: 'signatures', kind })),
    (i) => say(`  ${i + 1} of ${kinds.length} kinds`),
  )
})
const tableOf = Object.fromEntries(tables.map((t) => [t.kind, t]))
function told(i: number): void {
  if (i % 200 === 199) say(`  ${i + 1}`)
}
/** So many cases of a sort. */
const drawn = (count: number, name: string, sort: Sort): Promise<Given[]> =>
  kept<Given>(`${count}-${name}-of-${SEED}`, () => {
    say(`${count} ${name}`)
    return work(
      Array.from({ length: count }, (_, i) => ({ task: 'case', i, seed: SEED, sort })),
      told,
    )
  })
const diagnoses = (list: readonly Given[]): Promise<Diagnosed[]> =>
  work<Diagnosed>(
    list.map((one) => ({ task: 'diagnosis', one })),
    told,
  )
const simulated = await drawn(CASES, 'cases', 'one')
say('diagnoses')
const said = await diagnoses(simulated)
const pairs = await drawn(CASES / 5, 'pairs', 'two')
const saidOfPairs = await diagnoses(pairs)
const beyond = await drawn(CASES / 10, 'beyond', 'beyond')
const saidOfBeyond = await diagnoses(beyond)
/** A case without what only the diagnosis reads. */
const bare = ({ evidence: _evidence, kin: _kin, ...one }: Given): Omit<Given, 'evidence' | 'kin'> => one
const cases = simulated.map((one, i) => ({
  ...bare(one),
  remembered: Boolean(one.evidence.sound),
  ...said[i],
  ...judge(tableOf[one.kind], one),
}))
type Told = (typeof cases)[number]
if (process.env.KEEP_CASES) writeFileSync(process.env.KEEP_CASES, JSON.stringify(cases))

const print = (bench: string, x: Figure, bar?: number | string, met?: boolean): boolean =>
  process.stdout.write(
    `${JSON.stringify({ bench, value: Number(x.value.toPrecision(4)), ...(x.low === undefined || x.high === undefined ? {} : { low: Number(x.low.toPrecision(3)), high: Number(x.high.toPrecision(3)) }), ...(x.n === undefined ? {} : { n: x.n }), ...(bar === undefined ? {} : { bar, met }) })}\n`,
  )
function rate<T>(name: string, list: readonly T[], ok: (one: T) => boolean, bar?: number, over = true): void {
  const x = share(list.filter(ok).length, list.length)
  print(name, x, bar, bar === undefined ? undefined : over ? x.value >= bar : x.value <= bar)
}
const faulty = cases.filter((c) => c.fault !== 'none')
const sound = cases.filter((c) => c.fault === 'none')
const clear = cases.filter((c) => c.identifiable)
rate('diagnosis-faulty-that-qualify', faulty, (c) => c.identifiable, 0.7)
rate('diagnosis-first', clear, firstRight, 0.95)
rate('diagnosis-first-two', clear, inFirstTwo, 0.99)
rate(
  'diagnosis-first-faulty',
  clear.filter((c) => c.fault !== 'none'),
  firstRight,
)
rate('diagnosis-first-all', cases, firstRight)
rate('diagnosis-first-two-all', cases, inFirstTwo)
rate('diagnosis-false-alarms', sound, (c) => c.ranking[0].fault !== 'none', 0.03, false)
for (const [name, list, most] of [
  ['', clear, 0.05],
  ['-all', cases, 0.03],
] as const) {
  const c = calibration(list)
  print(`diagnosis-calibration-error${name}`, { value: c.excess, n: list.length }, most, c.excess <= most)
  print(`diagnosis-calibration-raw${name}`, { value: c.error })
  print(`diagnosis-log-loss${name}`, { value: c.logLoss })
  print(`diagnosis-brier${name}`, { value: c.brier })
  say(
    `  says/is${name}: ${c.bins.map((b) => (b.n ? `${b.says.toFixed(2)}/${b.is.toFixed(2)} (${b.n})` : '-')).join('  ')}`,
  )
}
for (const [name, list] of [
  ['', clear],
  ['-all', cases],
] as const) {
  const s = sizes(list)
  const inBand = (x: Figure): boolean => x.value >= 0.85 && x.value <= 0.95
  for (const k of ['area', 'maf', 'fuel'] as const)
    if (s[k].n) print(`diagnosis-coverage-${k}${name}`, s[k], name ? undefined : '0.85 to 0.95', inBand(s[k]))
  if (s.areaError.n)
    print(`diagnosis-leak-area-error${name}`, s.areaError, name ? undefined : 0.15, s.areaError.value <= 0.15)
}
for (const k of ['area', 'maf', 'fuel'] as const)
  for (const metering of ['maf', 'map', 'maf+map']) {
    const s = sizes(cases.filter((c) => c.vehicle.metering === metering))[k]
    if (s.n) print(`diagnosis-coverage-${k}-${metering}`, s)
  }
// a sound car of the same model beside each
const beside = cases.map((c) => ({ ...c, ranking: c.beside }))
const clearBeside = beside.filter((c) => c.identifiable)
rate('diagnosis-first-beside-a-sound-one', clearBeside, firstRight)
rate('diagnosis-first-two-beside-a-sound-one', clearBeside, inFirstTwo)
rate(
  'diagnosis-first-faulty-beside-a-sound-one',
  clearBeside.filter((c) => c.fault !== 'none'),
  firstRight,
)
rate(
  'diagnosis-false-alarms-beside-a-sound-one',
  beside.filter((c) => c.fault === 'none'),
  (c) => c.ranking[0].fault !== 'none',
)
print('diagnosis-log-loss-beside-a-sound-one', { value: calibration(clearBeside).logLoss })
// two at once, both of which can be told
const twice = pairs
  .map((one, i) => ({ ...bare(one), ...saidOfPairs[i] }))
  .filter((c) => judge(tableOf[c.kind], c).identifiable && judge(tableOf[c.kind], { ...c, ...c.also }).identifiable)
const both = (of: (one: Scored) => boolean) => (c: (typeof twice)[number]) => of(c) && of({ ...c, ...c.also })
rate('diagnosis-both-of-two-in-first-three', twice, both(inFirstThree), 0.75)
rate('diagnosis-both-of-two-in-first-two', twice, both(inFirstTwo))
// what the classes have not
const others = beyond.map((one, i) => ({ ...bare(one), ...saidOfBeyond[i] }))
for (const variant of new Set(others.map((c) => `${c.fault} ${c.variant}`))) {
  const list = others.filter((c) => `${c.fault} ${c.variant}` === variant)
  if (list[0].dead)
    rate(
      `diagnosis-beyond: ${list[0].dead} dead and told`,
      list,
      (c) => c.dead !== undefined && c.told.includes(c.dead),
    )
  rate(`diagnosis-beyond: ${variant}, first`, list, firstRight)
  rate(`diagnosis-beyond: ${variant}, first two`, list, inFirstTwo)
  rate(`diagnosis-beyond: ${variant}, first after tests`, list, (c) => firstRight({ ...c, ranking: c.tested }))
}
for (const fault of ['throttle-deposits', 'egr-open-at-idle', 'exhaust-leak'])
  rate(
    `diagnosis-first-${fault}`,
    clear.filter((c) => c.fault === fault),
    firstRight,
    0.75,
  )
const tested = cases.map((c) => ({ ...c, ranking: c.tested }))
const mean = (list: readonly Told[]): Figure => ({
  value: list.reduce((s, c) => s + c.tests, 0) / list.length,
  n: list.length,
})
print('diagnosis-tests-needed', mean(cases))
print('diagnosis-tests-needed-faulty', mean(faulty))
print('diagnosis-minutes-of-tests', { value: cases.reduce((s, c) => s + c.minutes, 0) / cases.length, n: cases.length })
rate(
  'diagnosis-first-after-tests-identifiable',
  tested.filter((c) => c.identifiable),
  firstRight,
  0.95,
)
rate('diagnosis-first-after-tests', tested, firstRight)
rate(
  'diagnosis-first-after-tests-faulty',
  tested.filter((c) => c.fault !== 'none'),
  firstRight,
)
const groups = (key: (c: Told) => string): Map<string, Told[]> =>
  cases.reduce((m, c) => m.set(key(c), [...(m.get(key(c)) ?? []), c]), new Map<string, Told[]>())
for (const [name, key] of [
  ['class', (c: Told) => c.fault],
  ['kind', (c: Told) => c.kind],
  [
    'third of severity',
    (c: Told) => (c.fault === 'none' ? '-' : ['slight', 'middle', 'severe'][Math.floor(3 * c.severity)]),
  ],
  ['earlier recording', (c: Told) => (c.remembered ? 'yes' : 'no')],
] as const)
  for (const [k, list] of [...groups(key)].sort()) {
    const id = list.filter((c) => c.identifiable)
    const of = (xs: Told[], f: (one: Scored) => boolean): string =>
      xs.length ? (xs.filter(f).length / xs.length).toFixed(2) : '-'
    say(
      `  ${name} ${k.padEnd(32)} ${String(list.length).padStart(4)} cases, first ${of(list, firstRight)}, two ${of(list, inFirstTwo)}; identifiable ${String(id.length).padStart(4)}, first ${of(id, firstRight)}, two ${of(id, inFirstTwo)}; tests ${mean(list).value.toFixed(1)}`,
    )
  }
const ms = cases.map((c) => c.ms).sort((a, b) => a - b)
print('diagnosis-milliseconds', { value: ms[Math.floor(ms.length / 2)], n: ms.length })
