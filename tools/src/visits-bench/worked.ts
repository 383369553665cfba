// One visit of a simulated engine, typed, and worked to its end by what is next: tests answered by what the engine carries,
// repairs that take away what they answer, the same points read again.
import {
  afterTick,
  benchOf,
  diagnoseVisit,
  diesTick,
  emptyVisit,
  feltTick,
  findOperatingPoints,
  HEALTHY,
  lastRound,
  lookItemsOf,
  nowAct,
  openFinds,
  readCar,
  roundToFill,
  slotChannels,
  testInfo,
  TESTS,
  workOn,
  type Diagnosis,
  type Dies,
  type FaultId,
  type NowAct,
  type OperatingPoint,
  type ReadingRecord,
  type RecordMeta,
  type SimulatedFaults,
  type Slot,
  type StationId,
  type Vehicle,
  type VisitFile,
} from '@uvula/core'
import { outcomeOf } from '../diagnosis-bench/tests.js'
import { lookedAt } from './looks.js'
import type { FaultClass } from '../diagnosis-bench/classes.js'

/** Acts beyond which a visit is not worked to its end. */
const MOST_ACTS = 24
const SLOTS: readonly Slot[] = ['idle', 'hold-2500', 'cruise', 'pull']
const SEVERITY = 0.6

/** How a visit ended. */
export interface Worked {
  readonly file: VisitFile
  readonly now: Diagnosis
  /** Faults that it still carries. */
  readonly left: readonly FaultClass[]
  readonly acts: readonly NowAct[]
  readonly repairs: number
}

const slotOf = (p: OperatingPoint): Slot | undefined =>
  p.kind === 'hold' ? (p.rpm > 2100 ? 'hold-2500' : undefined) : SLOTS.find((s) => s === p.kind)

/** Where a technician would go for a cause. */
const PLACES: Readonly<Partial<Record<FaultId, StationId>>> = {
  'unmetered-air': 'booster',
  'unmetered-air-bank': 'runners-1',
  'unmetered-air-duct': 'duct',
  'pcv-stuck-open': 'pcv',
  'pcv-blocked': 'pcv',
  'purge-stuck-open': 'purge',
  'boost-leak': 'boost-pipe',
  'maf-under-reads': 'airflow-sensor',
  'maf-over-reads': 'airflow-sensor',
  'map-sensor-offset': 'map-sensor',
  'temperature-sensor-implausible': 'airflow-sensor',
  'throttle-deposits': 'throttle',
  'idle-valve-stuck': 'idle-valve',
  'intake-restriction': 'filter',
  'egr-open-at-idle': 'egr',
  'egr-no-flow': 'egr',
  'valve-deposits': 'runners-1',
  'runner-restriction': 'runners-1',
}

const placeOf = (fault: FaultId | undefined): StationId => (fault && PLACES[fault]) ?? 'beyond'

/** A visit under way. */
class Visit {
  private minutes = 0
  private file: VisitFile
  left: FaultClass[]
  repairs = 0

  constructor(
    private readonly vehicle: Vehicle,
    carried: readonly FaultClass[],
    private readonly i: number,
  ) {
    this.left = [...carried]
    const car = { ...this.meta('car'), plate: 'B 1', customer: '', spec: vehicle }
    this.file = emptyVisit(car, {
      ...this.meta('v'),
      vehicleId: 'car',
      openedAt: this.meta('v').at,
      state: 'open',
      intent: 'complaint',
      complaint: '',
      signs: ['idle-rough'],
      conditions: [],
      altitudeM: vehicle.altitudeM,
      ambientC: 15,
    })
    const { codes } = this.measured()
    this.put({
      codes: codes.map((c, n) => ({
        ...this.meta(`code${n}`),
        visitId: 'v',
        code: c.code,
        state: c.state,
        when: 'before' as const,
        cleared: false,
      })),
    })
  }

  private meta(id: string): RecordMeta {
    this.minutes += 2
    return { id, version: 1, by: 'B', at: new Date(Date.UTC(2026, 0, 1, 8, this.minutes)).toISOString() }
  }

  private put(part: Partial<VisitFile>): void {
    this.file = { ...this.file, ...part }
  }

  private get faults(): SimulatedFaults {
    return this.left.reduce((x, c) => ({ ...x, ...c.set(SEVERITY, this.vehicle) }), { ...HEALTHY })
  }

  /** Types the points of a drive of the engine as it is now, by the day's own noise. */
  private measured(): ReturnType<typeof readCar> {
    const round = roundToFill(this.file)
    const read = readCar({
      vehicle: this.vehicle,
      faults: this.faults,
      drive: 'road',
      seed: 1000 + this.i,
      day: round,
      pollS: 0.2,
      gauge: this.vehicle.metering === 'maf',
    })
    const seen = new Set<Slot>()
    const points = findOperatingPoints(read.recording, this.vehicle)
    // what a coolant sensor tells as cold is typed as the idle that it is
    const hasIdle = points.some((p) => p.kind === 'idle')
    const readings = points.flatMap((p): ReadingRecord[] => {
      const slot = p.kind === 'cold' && !hasIdle ? 'idle' : slotOf(p)
      if (!slot || seen.has(slot)) return []
      seen.add(slot)
      const means: OperatingPoint['means'] = { battery_v: 14.1, ...p.means }
      return slotChannels(slot, this.vehicle).flatMap((channel) => {
        const value = means[channel]
        return value === undefined
          ? []
          : [{ ...this.meta(`v:${round}:${slot}:${channel}`), visitId: 'v', round, slot, channel, value, typed: '' }]
      })
    })
    this.put({ readings: [...this.file.readings, ...readings] })
    if (!seen.has('idle'))
      this.dies(round, seen.has('hold-2500') || seen.has('cruise') ? ['no-idle'] : ['no-idle', 'no-run'])
    return read
  }

  /** It was seen to die: at idle, or whatever the pedal does. */
  private dies(round: number, how: readonly Dies[]): void {
    const ticks = how.map((x) => ({ ...this.meta(diesTick(x, round)), visitId: 'v', caution: diesTick(x, round) }))
    this.put({ ticks: [...this.file.ticks, ...ticks] })
  }

  private walk(): void {
    const looks = lookItemsOf(this.vehicle).map((x) => ({
      ...this.meta(`look:${x.id}`),
      visitId: 'v',
      station: x.station,
      ...lookedAt(x, this.left, this.i),
    }))
    this.put({ findings: [...this.file.findings, ...looks] })
  }

  private test({ title }: Pick<NowAct, 'title'>): boolean {
    const again = title.endsWith(' again')
    const test = TESTS.find((t) => t.label === (again ? title.slice(0, -' again'.length) : title))
    if (!test) return false
    const answers = this.left.map((c) => ({
      fault: c.fault,
      found: outcomeOf(test.id, {
        i: this.i,
        fault: c.fault,
        carried: { ...HEALTHY, ...c.set(SEVERITY, this.vehicle) },
      }),
    }))
    const shown = answers.find((x) => x.found.outcome === 'fail')
    const found = (shown ?? answers.at(0))?.found ?? outcomeOf(test.id, { i: this.i, fault: 'none' })
    const was = again ? this.file.findings.findLast((x) => x.test === test.id && x.outcome === 'fail') : undefined
    const bench = benchOf(this.vehicle, test.id)
    // smoke comes out where the hole is; a test of one part is of that part
    const station = was?.station ?? (bench === 'places' || (shown && !test.at) ? placeOf(shown?.fault) : bench.station)
    const id = `${test.id}:${station}:${this.repairs}`
    if (this.file.findings.some((x) => x.id === id)) return false
    const finding = {
      ...this.meta(id),
      visitId: 'v',
      station,
      afterWork: workOn(this.file, { test: test.id, station }),
      ...found,
    }
    this.put({ findings: [...this.file.findings, finding] })
    return true
  }

  /** What it came with is gone where nothing is left. */
  private say(): void {
    const caution = feltTick('idle-rough', this.left.length ? 'there' : 'gone', roundToFill(this.file))
    this.put({ ticks: [...this.file.ticks, { ...this.meta(caution), visitId: 'v', caution }] })
  }

  private repair(station: StationId, answered: FaultClass | undefined, finding?: string): void {
    this.repairs++
    const afterRound = lastRound(this.file)
    if (answered?.fault === 'valve-deposits')
      this.put({
        steps: [
          ...this.file.steps,
          {
            ...this.meta(`step${this.repairs}`),
            visitId: 'v',
            station,
            surface: 'intake-valves',
            product: 'soft-media',
            method: 'ports-open',
            passed: true,
            afterRound,
          },
        ],
      })
    else
      this.put({
        repairs: [
          ...this.file.repairs,
          {
            ...this.meta(`repair${this.repairs}`),
            visitId: 'v',
            station,
            kind: answered?.fault.includes('deposits') ? 'clean' : 'replace',
            state: 'done',
            afterRound,
            temporary: false,
            minutes: 20,
            partsPrice: 10,
            conditions: [],
            ...(finding ? { finding } : {}),
          },
        ],
      })
    this.left = this.left.filter((c) => c !== answered)
  }

  /** The test that a cause's act leads to comes before its repair. */
  private isTested({ where }: NowAct): boolean {
    if (!where || where === 'places' || !where.test) return false
    const { test } = where
    if (this.file.findings.some((x) => x.test === test && x.id.endsWith(`:${this.repairs}`))) return false
    return this.test({ title: testInfo(test).label })
  }

  /** What a new part did not answer is left, as agreed: it was something else. */
  private leave(): void {
    const find = openFinds(this.file, true)[0]
    this.repairs++
    this.put({
      repairs: [
        ...this.file.repairs,
        {
          ...this.meta(`left${this.repairs}`),
          visitId: 'v',
          station: find.place,
          kind: 'leave',
          state: 'done',
          afterRound: lastRound(this.file),
          temporary: false,
          minutes: 0,
          partsPrice: 0,
          conditions: [],
          ...(find.place === 'beyond' ? { finding: find.find.id } : {}),
        },
      ],
    })
  }

  private mend(a: NowAct, now: Diagnosis): void {
    const lead = now.ranking.find((r) => r.fault !== 'none')?.fault
    // the coolant's sensor sits in the block
    const isCoolant = /the coolant/i.test(a.why)
    const find = a.id === 'mend' ? openFinds(this.file, true)[0] : undefined
    const station = find?.place ?? (isCoolant ? 'beyond' : placeOf(lead))
    const seat = (c: FaultClass): StationId => (c.variant === 'coolant' ? 'beyond' : placeOf(c.fault))
    // beyond the path only what leads, or what its test finds, is mended: a test that was wrong has nothing mended
    const finds = find && TESTS.find((t) => t.id === find.find.test)?.finds
    const isFound = (c: FaultClass): boolean => (finds?.[c.fault] ?? 0) > 0
    const isHere = (c: FaultClass): boolean => seat(c) === station || (station === 'beyond' && isFound(c))
    const here = this.left.filter((c) => (isCoolant ? c.variant === 'coolant' : isHere(c)))
    const isIt = (c: FaultClass): boolean => (finds ? isFound(c) : c.fault === lead)
    this.repair(
      station,
      station === 'beyond' ? here.find(isIt) : here[0],
      station === 'beyond' ? find?.find.id : undefined,
    )
  }

  /** What was done last sits as it should; false where that was checked before. */
  private check({ where }: NowAct): boolean {
    const id = `check:${this.repairs}`
    if (!where || where === 'places' || this.file.findings.some((x) => x.id === id)) return false
    const checked = {
      ...this.meta(id),
      visitId: 'v',
      test: 'note',
      outcome: 'pass' as const,
      note: 'sits as it should',
    }
    this.put({ findings: [...this.file.findings, { ...checked, station: where.station }] })
    return true
  }

  private codes({ title }: NowAct): void {
    if (title.startsWith('Drive'))
      this.put({
        ticks: [...this.file.ticks, { ...this.meta('driven'), visitId: 'v', caution: afterTick('codes-after-drive') }],
      })
    else this.put({ codes: this.file.codes.map((c) => ({ ...c, cleared: true })) })
  }

  /** Does what is next; false where that ends the visit, or cannot be done. */
  private does(a: NowAct, now: Diagnosis): boolean {
    switch (a.id) {
      case 'walk':
        this.walk()
        return true
      case 'test':
        return this.test(a)
      case 'mend':
        if (a.title.startsWith('Look again')) this.leave()
        else this.mend(a, now)
        return true
      case 'cause':
      case 'dirt':
      case 'still-there':
      case 'look-for-the-rest':
        if (!this.isTested(a)) this.mend(a, now)
        return true
      case 'felt':
        this.say()
        return true
      case 'measure-again':
        this.measured()
        return true
      case 'worse-since':
        return this.check(a)
      case 'clear-codes':
        this.codes(a)
        return true
      default:
        return false
    }
  }

  work(): Worked {
    const acts: NowAct[] = []
    for (;;) {
      const now = diagnoseVisit(this.file, lastRound(this.file))
      const a = nowAct(this.file, now)
      acts.push(a)
      if (acts.length > MOST_ACTS || !this.does(a, now))
        return { file: this.file, now, left: this.left, acts, repairs: this.repairs }
    }
  }
}

/** Works the visit of an engine that carries some faults. @param i - which engine of its kind, and which luck its tests have */
export const workedVisit = (vehicle: Vehicle, carried: readonly FaultClass[], i: number): Worked =>
  new Visit(vehicle, carried, i).work()
