import { execFile, spawn } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { Ajv } from 'ajv'
import { afterAll, describe, expect, it } from '@jest/globals'
import { checkOwnProcedure, checkVehicle, PROCEDURES } from '@uvula/core'

// the built command, as a user runs it
const main = fileURLToPath(new URL('../dist/main.js', import.meta.url))
const fixtures = fileURLToPath(new URL('../fixtures', import.meta.url))
const dir = mkdtempSync(join(tmpdir(), 'uvula-cli-'))
afterAll(() => rmSync(dir, { recursive: true, force: true }))

interface Ran {
  readonly status: number
  readonly out: string
  readonly err: string
}
const uvula = (...args: string[]): Promise<Ran> =>
  new Promise((resolve) =>
    execFile(process.execPath, [main, ...args], { maxBuffer: 64 << 20 }, (e, out, err) =>
      resolve({ status: e ? Number(e.code) : 0, out, err }),
    ),
  )
const schema = (name: string): object =>
  JSON.parse(readFileSync(new URL(`../../contract/schemas/${name}.schema.json`, import.meta.url), 'utf8')) as object
const validate = new Ajv({ strict: false }).compile(schema('diagnosis'))
const vehicle = join(fixtures, 'c020/vehicle.json')
const log = join(fixtures, 'c020/log.csv')

interface Line {
  readonly case?: string
  readonly error?: { readonly code: string; readonly message: string }
  readonly ranking: { readonly fault: string; readonly probability: number }[]
  readonly basis: { readonly sound: { readonly ownRecords: number; readonly carsLikeIt: number } }
}

describe('diagnose', () => {
  it('one recording: one object in the open format, sorted from the likeliest', async () => {
    const { status, out } = await uvula('diagnose', '--vehicle', vehicle, '--log', log)
    expect(status).toBe(0)
    const line = JSON.parse(out) as Line
    expect(validate(line)).toBe(true)
    expect(line.ranking[0].fault).toBe('unmetered-air')
    const ps = line.ranking.map((r) => r.probability)
    expect([...ps].sort((a, b) => b - a)).toEqual(ps)
  })
  it('readings weigh in beside the recording', async () => {
    const readings = join(dir, 'readings.json')
    writeFileSync(
      readings,
      JSON.stringify({
        signs: ['hiss'],
        tests: [{ test: 'smoke', result: { outcome: 'fail' } }],
        points: [{ kind: 'idle', rpm: 700, gauge_vacuum_kpa: 60 }],
      }),
    )
    const { out } = await uvula('diagnose', '--vehicle', vehicle, '--log', log, '--readings', readings)
    expect((JSON.parse(out) as Line).ranking[0].fault).toBe('unmetered-air')
  })
  it('a test says which of its unlike finds it made; one that it has not is refused by name', async () => {
    const readings = join(dir, 'kinds.json')
    const weighed = async (found: string) => {
      const test = { test: 'oil-cap', result: { outcome: 'fail', found } }
      writeFileSync(readings, JSON.stringify({ points: [], tests: [test] }))
      return uvula('diagnose', '--vehicle', vehicle, '--log', log, '--readings', readings)
    }
    const blocked = async (found: string): Promise<number> =>
      (JSON.parse((await weighed(found)).out) as Line).ranking.find((r) => r.fault === 'pcv-blocked')!.probability
    expect(await blocked('pressure')).toBeGreaterThan(await blocked('hard-suck'))
    expect((await weighed('whistle')).err).toMatch(
      /Test "oil-cap" has no find "whistle"; accepted: hard-suck, pressure\./,
    )
  })
  it('codes that nobody read say nothing; an empty list says that none stands', async () => {
    const misfires = async (part: object): Promise<number> => {
      const readings = join(dir, 'codes.json')
      writeFileSync(readings, JSON.stringify({ points: [], ...part }))
      const { out } = await uvula('diagnose', '--vehicle', vehicle, '--log', log, '--readings', readings)
      return JSON.parse(out).ranking.find((r: { fault: string }) => r.fault === 'ignition-misfire').probability
    }
    expect(await misfires({ codes: [] })).toBeLessThan(await misfires({}))
  })
  it('a folder: a line a case; a bad one gives its error and the rest go on', async () => {
    const batch = join(dir, 'batch')
    cpSync(fixtures, batch, { recursive: true })
    cpSync(join(fixtures, 'c020'), join(batch, 'broken'), { recursive: true })
    writeFileSync(join(batch, 'broken/log.csv'), 'no\ntable\n')
    const { status, out } = await uvula('diagnose', '--batch', batch)
    const lines = out
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as Line)
    expect(status).toBe(0)
    expect(lines.map((l) => [l.case, l.error?.code ?? l.ranking[0].fault])).toEqual([
      ['broken', 'no-header'],
      ['c006', 'fuel-delivery-low'],
      ['c010', 'maf-under-reads'],
      ['c020', 'unmetered-air'],
      ['c030', 'throttle-deposits'],
    ])
    expect(lines.filter((l) => !l.error).every((l) => validate(l))).toBe(true)
  })
  it('sound cars beside it: by flags and in a folder, and what it stands on is told', async () => {
    const sound = join(dir, 'sound.csv')
    const base = ['--vehicle', vehicle, '--log', log]
    await uvula('simulate', '--vehicle', vehicle, '--drive', 'shop', '--seed', '4', '--out', sound)
    const alone = JSON.parse((await uvula('diagnose', ...base)).out) as Line
    const flags = ['--sound', sound, '--sound', sound]
    const { out } = await uvula('diagnose', ...base, ...flags, '--sound-of', 'same-car', '--sound-of', 'same-model')
    const line = JSON.parse(out) as Line
    expect(validate(line)).toBe(true)
    expect(alone.basis.sound).toEqual({ ownRecords: 0, carsLikeIt: 0 })
    expect(line.basis.sound).toEqual({ ownRecords: 1, carsLikeIt: 1 })
    expect(line.ranking).not.toEqual(alone.ranking)
    const folder = join(dir, 'beside', 'one')
    cpSync(join(fixtures, 'c020'), folder, { recursive: true })
    for (const name of ['sound-car-1', 'sound-model-1', 'sound-model-2']) cpSync(sound, join(folder, `${name}.csv`))
    writeFileSync(join(folder, 'sound-model-2.json'), JSON.stringify({ altitudeM: 1200 }))
    const batch = JSON.parse((await uvula('diagnose', '--batch', join(dir, 'beside'))).out) as Line
    expect(batch.basis.sound).toEqual({ ownRecords: 1, carsLikeIt: 2 })
    writeFileSync(join(folder, 'sound-model-2.json'), JSON.stringify({ altitudeM: 'high' }))
    const bad = JSON.parse((await uvula('diagnose', '--batch', join(dir, 'beside'))).out) as Line
    expect(bad.error).toMatchObject({ code: 'place-not-valid', message: expect.stringContaining('-400 to 5000 m') })
  })
  it.each([
    [['--sound-of', 'same-model'], /--sound stands 0 times and --sound-of 1 times/],
    [['--sound', log], /--sound stands 1 times and --sound-of 0 times/],
    [['--sound', log, '--sound-of', 'cousin'], /--sound-of cousin: accepted are same-car, same-model/],
  ])('%j is refused with what is accepted', async (flags, words) => {
    const { status, err } = await uvula('diagnose', '--vehicle', vehicle, '--log', log, ...flags)
    expect([status, words.test(err)]).toEqual([2, true])
  })
  it('says which field of the vehicle is wrong', async () => {
    const bad = join(dir, 'bad.json')
    writeFileSync(bad, JSON.stringify({ ...(JSON.parse(readFileSync(vehicle, 'utf8')) as object), cylinders: 99 }))
    const { status, err } = await uvula('diagnose', '--vehicle', bad, '--log', log)
    expect(status).toBe(2)
    expect(err).toMatch(/cylinders is 99, accepted: a whole number 1 to 16/)
  })
  it('is not sure what columns mean: exit status 2 and a sentence, from diagnose and convert alike', async () => {
    const unsure = join(dir, 'unsure.csv')
    writeFileSync(unsure, 'time_s,Kanal A,Kanal B\n0,700,2.5\n1,701,2.5\n2,700,2.6\n')
    const wanted = /not sure what "Kanal A", "Kanal B" mean/
    const diagnosed = await uvula('diagnose', '--vehicle', vehicle, '--log', unsure)
    expect([diagnosed.status, wanted.test(diagnosed.err)]).toEqual([2, true])
    const converted = await uvula('convert', unsure, '--out', join(dir, 'never.csv'))
    expect([converted.status, wanted.test(converted.err)]).toEqual([2, true])
    expect(existsSync(join(dir, 'never.csv'))).toBe(false)
  })
  it('a file of 300 MB that is no table is refused like a small one', async () => {
    const huge = join(dir, 'huge.csv')
    writeFileSync(huge, '')
    truncateSync(huge, 300 * 1024 * 1024)
    const { status, err } = await uvula('convert', huge, '--out', join(dir, 'never.csv'))
    rmSync(huge)
    expect([status, /not a table of text/.test(err)]).toEqual([2, true])
  })
  it('serves the network only where somebody can come in: without a terminal it says what to set', async () => {
    const data = join(dir, 'shop')
    const { status, err } = await uvula('serve', '--network', '--data', data, '--port', '20017')
    expect([status, err]).toEqual([1, expect.stringContaining('UVULA_PASSPHRASE, UVULA_OWNER and UVULA_PIN')])
    expect((await uvula('serve', '--plain')).status).toBe(2)
  })
  it('says which reading is not physics', async () => {
    const readings = join(dir, 'mad.json')
    writeFileSync(readings, JSON.stringify({ points: [{ kind: 'idle', rpm: -4 }] }))
    const { status, err } = await uvula('diagnose', '--vehicle', vehicle, '--log', log, '--readings', readings)
    expect([status, /points\[0\].rpm = -4, accepted: 0 to 15000/.test(err)]).toEqual([2, true])
  })
})

describe('plan-feed', () => {
  const plans = new Ajv({ strict: false }).compile(schema('feed-plan'))
  const requests = new Ajv({ strict: false }).compile(schema('feed-request'))
  const asked = {
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 30,
    labelMaxMl: 100,
    point: 'plenum',
    airGS: 14,
    rpm: 2500,
    speedFrom: 'scan',
    coolantC: 90,
    extraction: true,
    fireCover: true,
    lampFlashing: false,
    heldRunning: true,
  }
  const put = (name: string, x: object): string => {
    const path = join(dir, name)
    mkdirSync(join(path, '..'), { recursive: true })
    writeFileSync(path, JSON.stringify(x))
    return path
  }
  const plan = async (part: object, ...more: string[]): Promise<{ ran: Ran; line: PlanLine }> => {
    const ran = await uvula(
      'plan-feed',
      '--vehicle',
      vehicle,
      '--request',
      put('request.json', { ...asked, ...part }),
      ...more,
    )
    return { ran, line: (ran.out ? JSON.parse(ran.out) : undefined) as PlanLine }
  }
  interface PlanLine {
    readonly ok: boolean
    readonly case?: string
    readonly error?: object
    readonly before: { readonly alreadyMl: number; readonly filmStartMl: number }
    readonly plan?: { readonly shots: number; readonly minutes: number }
    readonly refusals?: readonly {
      readonly code: string
      readonly limit: number | null
      readonly value: number | null
    }[]
  }
  it('a plan, or the refusals with limit and value, in the open format', async () => {
    expect(requests(asked)).toBe(true)
    const { line } = await plan({})
    expect([line.ok, plans(line)]).toEqual([true, true])
    const { line: no, ran } = await plan({ doseMl: 150, lampFlashing: true })
    expect([ran.status, no.ok, plans(no)]).toEqual([0, false, true])
    expect(no.refusals).toMatchObject([
      { code: 'lamp-flashing', limit: null },
      { code: 'label', limit: 100, value: 150 },
    ])
  })
  it('what went in before counts: against the day’s label, and as film', async () => {
    const history = put('history.json', {
      now: '2026-03-01T10:00:00Z',
      attempts: [
        { endedAt: '2026-03-01T09:59:00Z', fedMl: 80, filmMl: 1.5, engineStood: true },
        { endedAt: '2026-02-20T09:00:00Z', fedMl: 60 },
      ],
    })
    const { line } = await plan({}, '--history', history)
    expect(line.before).toEqual({ alreadyMl: 80, filmStartMl: 1.5 })
    expect(line.refusals).toMatchObject([{ code: 'label-day', limit: 100, value: 110 }])
  })
  it('names every field that is wrong, missing or not known', async () => {
    const { ran } = await plan({ rpm: 'fast', coolantC: undefined, colour: 'red' })
    expect(ran.status).toBe(2)
    expect(ran.err).toMatch(/rpm is "fast", accepted: a number 0 to 12000 rpm; coolantC is missing.*colour is "red"/)
  })
  it('a folder: a line a case', async () => {
    for (const [name, part] of [
      ['a', {}],
      ['b', { speedFrom: 'guessed' }],
      ['c', { rpm: -4 }],
    ] as const) {
      put(`feeds/${name}/request.json`, { ...asked, ...part })
      cpSync(vehicle, join(dir, `feeds/${name}/vehicle.json`))
    }
    const { out } = await uvula('plan-feed', '--batch', join(dir, 'feeds'))
    const lines = out
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as PlanLine)
    expect(lines.map((l) => [l.case, l.error ? 'error' : l.ok])).toEqual([
      ['a', true],
      ['b', false],
      ['c', 'error'],
    ])
  })
})

describe('simulate and convert', () => {
  it('a simulated leak is found again, the same seed writes the same file', async () => {
    const [a, b] = [join(dir, 'a.csv'), join(dir, 'b.csv')]
    for (const out of [a, b])
      expect(
        (
          await uvula(
            'simulate',
            '--vehicle',
            vehicle,
            '--fault',
            'unmetered-air:areaMm2=2.5',
            '--drive',
            'shop',
            '--seed',
            '5',
            '--out',
            out,
          )
        ).status,
      ).toBe(0)
    expect(readFileSync(a, 'utf8')).toBe(readFileSync(b, 'utf8'))
    const { out } = await uvula('diagnose', '--vehicle', vehicle, '--log', a)
    expect((JSON.parse(out) as Line).ranking[0].fault).toBe('unmetered-air')
  })
  it('convert writes the canonical header, and a sentence when it cannot', async () => {
    const out = join(dir, 'c.csv')
    expect((await uvula('convert', log, '--out', out)).status).toBe(0)
    expect(readFileSync(out, 'utf8').split('\n')[0]).toMatch(/^time_s,rpm,speed_kph/)
    const bad = await uvula('convert', vehicle, '--out', out)
    expect([bad.status, bad.err.length > 20]).toEqual([2, true])
  })
  it.each([
    [
      ['simulate', '--vehicle', vehicle, '--fault', 'gremlins', '--out', '/dev/null'],
      /not one the simulated engine carries/,
    ],
    [['simulate', '--vehicle', vehicle, '--drive', 'moon', '--out', '/dev/null'], /accepted are shop, road/],
    [['wobble'], /uvula diagnose --vehicle/],
  ])('%j is refused with what is accepted', async (args, message) => {
    const { status, err } = await uvula(...args)
    expect(status).toBe(2)
    expect(err).toMatch(message)
  })
})

it('the vehicle schema and the check agree, field by field', () => {
  const more = {
    layout: 'flat',
    trimBanks: 2,
    inlets: 2,
    pedal: 'cable',
    idleValveToo: true,
    separator: 'under-manifold',
    idleSpecFrom: 'label',
    confirmed: ['cylinders'],
    branches: { joins: { 'cruise-line': 'plenum' } },
    stations: { duct: { material: 'rubber', hoseMm: 60 } },
    driving: ['dust'],
  }
  const ajv = new Ajv({ strict: false }).compile(schema('vehicle'))
  const good = JSON.parse(readFileSync(vehicle, 'utf8')) as Record<string, unknown>
  const variants: Record<string, unknown>[] = [
    good,
    ...Object.keys(good).map((k) => ({ ...good, [k]: 'wrong' })),
    ...Object.keys(good).map((k) => ({ ...good, [k]: undefined })),
    { ...good, cylinders: 0 },
    { ...good, altitudeM: 9000 },
    ...Object.entries(more).flatMap(([k, x]) => [
      { ...good, [k]: x },
      { ...good, [k]: 'wrong' },
    ]),
  ]
  for (const v of variants) {
    const plain = JSON.parse(JSON.stringify(v)) as unknown
    expect([v, ajv(plain)]).toEqual([v, checkVehicle(plain).ok])
  }
})

it('the procedure schema takes what the check takes, and each of ours', () => {
  const ajv = new Ajv({ strict: false }).compile(schema('procedure'))
  for (const p of PROCEDURES) {
    const own = {
      format: 'uvula-procedure',
      formatVersion: 1,
      id: `own-${p.id}`,
      label: p.label,
      kind: 'teach',
      why: '',
      source: 'ours',
      sourceDate: '2026-01-01',
      preconditions: p.preconditions,
      steps: p.steps,
    }
    expect([p.id, ajv(own), checkOwnProcedure(own).ok]).toEqual([p.id, true, true])
    for (const k of Object.keys(own)) {
      const wrong = JSON.parse(JSON.stringify({ ...own, [k]: undefined })) as unknown
      expect([k, ajv(wrong), checkOwnProcedure(wrong).ok]).toEqual([k, false, false])
    }
  }
})

describe('vehicle', () => {
  it('stands on a port, answers bytes, takes words from the driver and quits', async () => {
    const child = spawn(process.execPath, [main, 'vehicle', '--vehicle', vehicle, '--port', '0'])
    let said = ''
    child.stdout.on('data', (d: Buffer) => (said += d.toString()))
    const hears = async (pattern: RegExp): Promise<string> => {
      for (let i = 0; i < 200; i++) {
        const m = pattern.exec(said)
        if (m) return m[1]
        await new Promise((r) => setTimeout(r, 50))
      }
      throw new Error(`not heard: ${pattern.source} in ${said}`)
    }
    const port = Number(await hears(/127\.0\.0\.1:(\d+)/))
    const socket = connect(port, '127.0.0.1')
    // engine speed, written out byte by byte
    socket.write(Buffer.from('000007e00802010c0000000000', 'hex'))
    const answer = await new Promise<Buffer>((r) => socket.once('data', r))
    expect(answer.subarray(0, 8).toString('hex')).toBe('000007e80804410c')
    expect(answer.readUInt16BE(8) / 4).toBeGreaterThan(400)
    child.stdin.write('fly\nhold 2500\n')
    await hears(/(hold); was at/)
    expect(said).toMatch(/Not understood: off, key-on/)
    child.stdin.write('quit\n')
    expect(await new Promise((r) => child.once('exit', r))).toBe(0)
    socket.destroy()
  })
  it('a port that is none is said', async () =>
    expect(await uvula('vehicle', '--vehicle', vehicle, '--port', '70000')).toMatchObject({
      status: 2,
      err: expect.stringMatching(/--port 70000: accepted is 0 to 65535/),
    }))
})

describe('balance and speed', () => {
  const engine = join(dir, 'case/vehicle.json')
  const wave = join(dir, 'case/wave.wav')
  it('a weak cylinder from a WAV file, its speed, and a batch where one folder is bad', async () => {
    mkdirSync(join(dir, 'case'))
    mkdirSync(join(dir, 'spoilt'))
    cpSync(vehicle, engine)
    cpSync(vehicle, join(dir, 'spoilt/vehicle.json'))
    writeFileSync(join(dir, 'spoilt/wave.csv'), 'no,numbers')
    const fault = ['--fault', 'weak-cylinder:cylinder=2,severity=0.4']
    const log = join(dir, 'case/log-of-it.csv')
    const sim = await uvula('simulate', '--vehicle', engine, ...fault, '--out', log, '--pressure', wave)
    expect(sim.err).toBe('')
    const scale = join(dir, 'case/wave.calibration.json')
    const { out } = await uvula('balance', '--vehicle', engine, '--wave', wave, '--calibration', scale)
    const b = JSON.parse(out) as { odd: { cylinder: number; probability: number }; cylinders: object[]; cycles: number }
    expect(b.odd.cylinder).toBe(2)
    expect(b.odd.probability).toBeGreaterThan(0.78)
    const batch = await uvula('balance', '--batch', dir)
    const lines = batch.out
      .trim()
      .split('\n')
      .map((x) => JSON.parse(x) as Line & { odd?: { cylinder: number } })
    expect([batch.status, lines.map((x) => x.odd?.cylinder ?? x.error?.code)]).toEqual([0, [2, 'not-a-signal']])
    const { cylinders } = JSON.parse(readFileSync(engine, 'utf8')) as { cylinders: number }
    const speed = await uvula('speed', '--wave', wave, '--cylinders', String(cylinders))
    const heard = JSON.parse(speed.out) as { rpm: { median: number; low: number; high: number }; track: object[] }
    expect(heard.rpm.low).toBeLessThanOrEqual(heard.rpm.median)
    expect(heard.track.length).toBeGreaterThan(20)
  })
  it('what is missing or out of range is named', async () => {
    expect((await uvula('balance', '--vehicle', vehicle)).err).toMatch(/--wave is missing/)
    expect((await uvula('speed', '--wave', log, '--cylinders', '0')).err).toMatch(/--cylinders 0: accepted is 1 to 16/)
    expect((await uvula('balance', '--vehicle', vehicle, '--wave', log)).status).toBe(2)
  })
})
