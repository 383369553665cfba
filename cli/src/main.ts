#!/usr/bin/env node
import { existsSync, writeFileSync } from 'node:fs'
import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import {
  addFault,
  drivenEngine,
  DRIVES,
  HEALTHY,
  PulseLayer,
  simulateRecording,
  writeRecordingCsv,
  writeWav,
  type DriveName,
  type SoundOf,
  type SimulatedFaults,
  type Vehicle,
} from '@uvula/core'
import { diagnoseBatch, diagnoseFiles, type SoundPath } from './diagnose.js'
import { CommandError, readRecording, readVehicle, type BatchLine } from './files.js'
import { planFeedBatch, planFeedFiles } from './feed.js'
import { runVehicle } from './vehicle.js'
import { balanceBatch, balanceFiles, speedFile } from './waves.js'

const USAGE = `uvula: the intake path, measured

  uvula diagnose --vehicle V.json --log L.csv [--readings R.json]
                 [--sound S.csv --sound-of same-car|same-model] ...
  uvula diagnose --batch DIR
  uvula simulate --vehicle V.json --fault ID[:key=value,...] [--fault ...]
                 --drive shop|road --seed N --out L.csv [--pressure P.(csv|wav)]
  uvula balance --vehicle V.json --wave W.(wav|csv) [--calibration C.json]
                [--trigger-channel N] [--side intake|exhaust] [--hose M]
  uvula balance --batch DIR
  uvula speed --wave W.(wav|csv) --cylinders N [--idle MIN-MAX]
  uvula plan-feed --vehicle V.json --request R.json [--history H.json]
  uvula plan-feed --batch DIR
  uvula convert IN --out OUT.csv
  uvula backup --data DIR --out FILE
  uvula check-backup FILE
  uvula restore FILE --data DIR
  uvula serve [--port N] [--data DIR] [--network [--plain]]
  uvula vehicle --vehicle V.json [--fault ID[:key=value,...]] [--port N]
                [--latency MS] [--seed N] [--coolant C]
`

function need(value: string | undefined, flag: string): string {
  if (value === undefined) throw new CommandError('usage', `${flag} is missing.\n\n${USAGE}`)
  return value
}

/** A line a case; the status says whether any could be worked. */
function printAll(lines: Iterable<BatchLine>): number {
  let worked = 0
  for (const { ok, line } of lines) {
    if (ok) worked++
    process.stdout.write(JSON.stringify(line) + '\n')
  }
  return worked > 0 ? 0 : 1
}

function runDiagnose(args: string[]): number {
  const { values } = parseArgs({
    args,
    options: {
      vehicle: { type: 'string' },
      log: { type: 'string' },
      readings: { type: 'string' },
      sound: { type: 'string', multiple: true },
      'sound-of': { type: 'string', multiple: true },
      batch: { type: 'string' },
    },
  })
  if (values.batch !== undefined) return printAll(diagnoseBatch(values.batch))
  const result = diagnoseFiles({
    vehicle: need(values.vehicle, '--vehicle'),
    log: need(values.log, '--log'),
    readings: values.readings,
    sound: soundOf(values.sound ?? [], values['sound-of'] ?? []),
  })
  process.stdout.write(JSON.stringify(result) + '\n')
  return 0
}

const SOUND_OF: readonly SoundOf[] = ['same-car', 'same-model']

/** Recordings of sound cars, each with whose it is: one word for all of them, or one each. @throws CommandError */
function soundOf(logs: readonly string[], words: readonly string[]): SoundPath[] {
  const matched = words.length === logs.length || (words.length === 1 && logs.length > 0)
  if (!matched)
    throw new CommandError(
      'usage',
      `--sound stands ${logs.length} times and --sound-of ${words.length} times: accepted is one for all, or one each.`,
    )
  return logs.map((log, i) => {
    const word = words.length === 1 ? words[0] : words[i]
    const of = SOUND_OF.find((x) => x === word)
    if (!of) throw new CommandError('usage', `--sound-of ${word}: accepted are ${SOUND_OF.join(', ')}.`)
    const place = log.replace(/\.csv$/i, '.json')
    return { of, log, place: place !== log && existsSync(place) ? place : undefined }
  })
}

/** Faults given as text, for one vehicle. @throws CommandError */
function faultsOf(texts: readonly string[] | undefined, vehicle: Vehicle): SimulatedFaults {
  let faults = HEALTHY
  for (const spec of texts ?? []) {
    const added = addFault(faults, spec, vehicle)
    if (!added.ok) throw new CommandError('fault-not-known', `--fault ${spec}: ${added.message}.`)
    faults = added.faults
  }
  return faults
}

function wholeNumber(text: string, flag: string): number {
  const x = Number(text)
  if (!Number.isInteger(x)) throw new CommandError('usage', `${flag} ${text}: accepted is a whole number.`)
  return x
}

function numberWithin(text: string, flag: string, low: number, high: number): number {
  const x = wholeNumber(text, flag)
  if (!(x >= low && x <= high)) throw new CommandError('usage', `${flag} ${text}: accepted is ${low} to ${high}.`)
  return x
}

function runSimulate(args: string[]): number {
  const { values } = parseArgs({
    args,
    options: {
      vehicle: { type: 'string' },
      fault: { type: 'string', multiple: true },
      drive: { type: 'string', default: 'shop' },
      seed: { type: 'string', default: '1' },
      out: { type: 'string' },
      pressure: { type: 'string' },
    },
  })
  if (!(values.drive in DRIVES))
    throw new CommandError('usage', `--drive ${values.drive}: accepted are ${Object.keys(DRIVES).join(', ')}.`)
  const seed = wholeNumber(values.seed, '--seed')
  const vehicle = readVehicle(need(values.vehicle, '--vehicle'))
  const faults = faultsOf(values.fault, vehicle)
  const recording = simulateRecording({ vehicle, faults, drive: values.drive as DriveName, seed })
  writeFileSync(need(values.out, '--out'), writeRecordingCsv(recording))
  // ten seconds of manifold pressure at idle with the trigger of cylinder 1, as a transducer takes it
  if (values.pressure !== undefined) {
    const w = new PulseLayer(drivenEngine({ vehicle, faults, seed })).record({
      seconds: 10,
      sampleHz: 5000,
      hoseM: 0.3,
    })
    const signal = w.pressurePa.map((p) => p / 1000)
    if (/\.wav$/i.test(values.pressure)) {
      const { bytes, calibration } = writeWav({
        sampleHz: w.sampleHz,
        signal,
        trigger: Float64Array.from(w.trigger),
        unit: 'kPa',
      })
      writeFileSync(values.pressure, bytes)
      writeFileSync(values.pressure.replace(/\.wav$/i, '.calibration.json'), JSON.stringify(calibration))
    } else {
      const rows = Array.from(signal, (p, i) => `${(i / w.sampleHz).toFixed(4)},${p.toFixed(3)},${w.trigger[i]}`)
      writeFileSync(values.pressure, ['time_s,pressure_kpa,trigger', ...rows, ''].join('\n'))
    }
  }
  return 0
}

function runConvert(args: string[]): number {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { out: { type: 'string' } } })
  writeFileSync(need(values.out, '--out'), writeRecordingCsv(readRecording(need(positionals[0], 'IN'))))
  return 0
}

function runBalance(args: string[]): number {
  const { values } = parseArgs({
    args,
    options: {
      vehicle: { type: 'string' },
      wave: { type: 'string' },
      calibration: { type: 'string' },
      'trigger-channel': { type: 'string' },
      side: { type: 'string', default: 'intake' },
      hose: { type: 'string' },
      batch: { type: 'string' },
    },
  })
  const { side } = values
  if (side !== 'intake' && side !== 'exhaust')
    throw new CommandError('usage', `--side ${side}: accepted are intake and exhaust.`)
  const hoseM = values.hose === undefined ? undefined : Number(values.hose)
  if (hoseM !== undefined && !(hoseM >= 0 && hoseM <= 20))
    throw new CommandError('usage', `--hose ${values.hose}: accepted is 0 to 20 metres.`)
  const channel = values['trigger-channel']
  const options = {
    side,
    hoseM,
    triggerChannel: channel === undefined ? undefined : numberWithin(channel, '--trigger-channel', 1, 8),
  } as const
  if (values.batch !== undefined) return printAll(balanceBatch(values.batch, options))
  const result = balanceFiles({
    ...options,
    vehicle: need(values.vehicle, '--vehicle'),
    wave: need(values.wave, '--wave'),
    calibration: values.calibration,
  })
  process.stdout.write(JSON.stringify(result) + '\n')
  return 0
}

function runPlanFeed(args: string[]): number {
  const text = { type: 'string' } as const
  const { values } = parseArgs({ args, options: { vehicle: text, request: text, history: text, batch: text } })
  if (values.batch !== undefined) return printAll(planFeedBatch(values.batch))
  const result = planFeedFiles({
    vehicle: need(values.vehicle, '--vehicle'),
    request: need(values.request, '--request'),
    history: values.history,
  })
  process.stdout.write(JSON.stringify(result) + '\n')
  return 0
}

function runSpeed(args: string[]): number {
  const { values } = parseArgs({
    args,
    options: { wave: { type: 'string' }, cylinders: { type: 'string' }, idle: { type: 'string' } },
  })
  const wave = need(values.wave, '--wave')
  const cylinders = numberWithin(need(values.cylinders, '--cylinders'), '--cylinders', 1, 16)
  const band = values.idle === undefined ? undefined : /^(\d+)-(\d+)$/.exec(values.idle)
  if (band === null) throw new CommandError('usage', `--idle ${values.idle}: accepted is MIN-MAX in rpm, as 620-740.`)
  process.stdout.write(
    JSON.stringify(speedFile(wave, cylinders, band && { min: Number(band[1]), max: Number(band[2]) })) + '\n',
  )
  return 0
}

/** A vehicle on a local port, until its input ends or it is told to quit. */
async function standVehicle(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      vehicle: { type: 'string' },
      fault: { type: 'string', multiple: true },
      port: { type: 'string', default: '35000' },
      latency: { type: 'string', default: '3' },
      seed: { type: 'string', default: '1' },
      coolant: { type: 'string' },
    },
  })
  const vehicle = readVehicle(need(values.vehicle, '--vehicle'))
  return runVehicle({
    vehicle,
    faults: faultsOf(values.fault, vehicle),
    port: numberWithin(values.port, '--port', 0, 65_535),
    latencyMs: numberWithin(values.latency, '--latency', 0, 5000),
    seed: wholeNumber(values.seed, '--seed'),
    coolantC: values.coolant === undefined ? undefined : numberWithin(values.coolant, '--coolant', -30, 110),
  })
}

/** Runs a script of the server's in a process of its own. @returns its exit status */
function runServerScript(script: string, args: string[], env: Readonly<Record<string, string>> = {}): Promise<number> {
  return new Promise((resolve, reject) => {
    const file = fileURLToPath(new URL(`../../server/${script}`, import.meta.url))
    const child = spawn(process.execPath, [file, ...args], { stdio: 'inherit', env: { ...process.env, ...env } })
    child.once('error', reject)
    child.once('exit', (code) => resolve(code ?? 2))
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => child.kill(signal))
  })
}

/** Backups of a data folder are the server's affair: its own command does them. */
const ofServer =
  (command: string) =>
  (args: string[]): Promise<number> =>
    runServerScript('dist/backup/command.js', [command, ...args])

/** The shop on this computer, and on its network where that is asked for. */
function serve(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: {
      port: { type: 'string' },
      data: { type: 'string' },
      network: { type: 'boolean', default: false },
      plain: { type: 'boolean', default: false },
    },
  })
  if (values.plain && !values.network) throw new CommandError('usage', '--plain: asks for --network beside it.')
  return runServerScript('bundle/main.js', [], {
    ...(values.port === undefined ? {} : { PORT: String(numberWithin(values.port, '--port', 1, 65_533)) }),
    ...(values.data === undefined ? {} : { UVULA_DATA: values.data }),
    ...(values.network ? { UVULA_NETWORK: '1' } : {}),
    ...(values.plain ? { UVULA_PLAIN: '1' } : {}),
  })
}

const COMMANDS: Readonly<Record<string, (args: string[]) => number | Promise<number>>> = {
  diagnose: runDiagnose,
  simulate: runSimulate,
  convert: runConvert,
  balance: runBalance,
  'plan-feed': runPlanFeed,
  speed: runSpeed,
  backup: ofServer('backup'),
  'check-backup': ofServer('check-backup'),
  restore: ofServer('restore'),
  serve,
  vehicle: standVehicle,
}

const [command, ...rest] = process.argv.slice(2)
try {
  const run = COMMANDS[command ?? '']
  if (!run) throw new CommandError('usage', USAGE)
  process.exitCode = await run(rest)
} catch (e) {
  const plain = e instanceof CommandError || (e as { code?: string }).code?.startsWith('ERR_PARSE_ARGS')
  process.stderr.write(`${plain ? (e as Error).message : `uvula failed: ${(e as Error).message}`}\n`)
  process.exitCode = 2
}
