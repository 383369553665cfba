// npm run bench:visits [-- KINDS]: whole visits of simulated engines, one fault and two, worked to their end by what is next;
// every sheet is held against what the engine carried. One JSON object a line, and what was said wrongly beside them.
import { causesOf, diagnoseVisit, sheetOf, type FaultId, type Vehicle } from '@uvula/core'
import { classesOf, type FaultClass } from './diagnosis-bench/classes.js'
import { sameAnswer } from './diagnosis-bench/identify.js'
import { KINDS } from './diagnosis-bench/population.js'
import { workedVisit } from './visits-bench/worked.js'

/** Of all pairs of two classes of an engine every so many-th is worked. */
const EVERY_PAIR = 9
const ALTITUDE_M = 1180
/** Over all kinds, ours: most of what is left of two faults shows in no reading once the other is mended. */
const BARS = { endOne: 0.85, endTwo: 0.4, wrong: 0.01, sound: 0.05 } as const

const kinds = process.argv[2]?.split(',') ?? Object.keys(KINDS)

/** Counts of one sort of visits. */
interface Tally {
  visits: number
  ended: number
  wrong: number
  sound: number
  acts: number
}

function worked(vehicle: Vehicle, carried: readonly FaultClass[], i: number, t: Tally): void {
  const { file, now, left, acts } = workedVisit(vehicle, carried, i)
  const d = diagnoseVisit(file, 0)
  const { confirmed, or } = causesOf(file, d, now)
  const { plain } = sheetOf(file, d, 60, now)
  t.visits++
  t.acts += acts.length
  if (!left.length && acts.at(-1)?.id === 'sheet') t.ended++
  const names = carried.map((c) => `${c.fault} ${c.variant}`).join(' + ') || 'none'
  const isCarried = (x: FaultId): boolean => carried.some((c) => sameAnswer(x, c.fault, vehicle))
  // of several that are not told apart one is enough
  const wrong = confirmed.filter((x) => !isCarried(x) && !or[x]?.some(isCarried))
  if (wrong.length) {
    t.wrong++
    process.stderr.write(`${vehicle.name}, ${names}: confirmed ${wrong.join(', ')}. ${plain}\n`)
  }
  if (left.length && /found nothing wrong/.test(plain)) t.sound++
}

const one: Tally = { visits: 0, ended: 0, wrong: 0, sound: 0, acts: 0 }
const two: Tally = { ...one }
for (const kind of kinds) {
  const vehicle: Vehicle = { ...KINDS[kind], name: kind, altitudeM: ALTITUDE_M }
  const classes = classesOf(vehicle)
  for (const [n, a] of classes.entries()) {
    worked(vehicle, [a], n, one)
    classes.forEach((b, m) => {
      if (m > n && b.fault !== a.fault && (7 * n + 3 * m) % EVERY_PAIR === 0) worked(vehicle, [a, b], n, two)
    })
  }
}
/** One figure; with a bar, the least or the most that it may be, it says whether that is met. */
function line(bench: string, value: number, unit: string, bar?: readonly ['least' | 'most', number]): void {
  const met = bar && (bar[0] === 'least' ? value >= bar[1] : value <= bar[1])
  const figure = { bench, value: Number(value.toFixed(3)), unit, ...(bar ? { bar: bar[1], met } : {}) }
  process.stdout.write(`${JSON.stringify(figure)}\n`)
}
for (const [of, t, end] of [
  ['one fault', one, BARS.endOne],
  ['two faults', two, BARS.endTwo],
] as const) {
  line(`visits, ${of}`, t.visits, 'visits')
  line(`visits to their end, ${of}`, t.ended / t.visits, 'share', ['least', end])
  line(`visits with a wrong cause confirmed, ${of}`, t.wrong / t.visits, 'share', ['most', BARS.wrong])
  line(`visits that found nothing wrong with a fault, ${of}`, t.sound / t.visits, 'share', ['most', BARS.sound])
  line(`acts a visit, ${of}`, t.acts / t.visits, 'acts')
}
