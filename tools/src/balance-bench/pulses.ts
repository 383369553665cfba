// Pulses of a made-up engine, for trying the analysis of waveforms: runners with inertia, ports that fill, a plenum behind a
// choked plate, valves, a hose and a transducer. It shares nothing with the analysis and draws what that does not model.

/** Numbers between 0 and 1 that a seed repeats. */
export function randomOf(seed: number): () => number {
  let a = (seed ^ 0x5bd1e995) >>> 0
  return () => {
    a = (a + 0x6d2b79f5) >>> 0
    let t = a
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}
const normal = (random: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())

const ORDERS: Readonly<Record<number, readonly number[]>> = {
  2: [1, 2],
  3: [1, 3, 2],
  4: [1, 3, 4, 2],
  5: [1, 2, 4, 5, 3],
  6: [1, 5, 3, 6, 2, 4],
  8: [1, 5, 4, 8, 6, 3, 7, 2],
  10: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10],
  12: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12],
}

const SOUND_MS = 340
const R_T = 287 * 300

/** What is drawn; what is left out is as most engines have it. */
export interface PulseRequest {
  readonly cylinders: number
  readonly order?: readonly number[]
  readonly rpm: number
  readonly seconds: number
  readonly sampleHz: number
  readonly seed: number
  /** A cylinder that lacks this share, by its runner or by a leaking valve. */
  readonly weak?: { readonly cylinder: number; readonly share: number; readonly kind: 'runner' | 'valve' }
  readonly snrDb?: number
  /** Share by which the speed wanders. */
  readonly wander?: number
  readonly cycleSpread?: number
  readonly hoseM?: number
}

/** A waveform: pressure [kPa], and 5 V where cylinder 1 is marked. */
export interface Pulses {
  readonly pressure: Float64Array
  readonly trigger: Float64Array
  readonly sampleHz: number
}

/** Pulses in the manifold of one made-up engine. */
export function pulses(q: PulseRequest): Pulses {
  const random = randomOf(q.seed)
  const n = q.cylinders
  const order = q.order ?? ORDERS[n]
  const between = (a: number, b: number): number => a + (b - a) * random()
  const displacement = (n * between(0.3, 0.6)) / 1000
  const vc = displacement / n
  const plenum = displacement * between(0.9, 2.2)
  const meanPa = between(28, 42) * 1000
  const area = Math.PI * (between(0.03, 0.042) / 2) ** 2
  // each runner of its own length: no two intakes are alike
  const common = between(0.2, 0.5)
  const lengths = order.map(() => common * (1 + 0.08 * normal(random)))
  const opens = between(-14, 4)
  const closes = between(205, 245)
  const overlap = between(0, 0.05)
  const sound = order.map(() => 1 + 0.012 * normal(random))
  const hoseM = q.hoseM ?? between(0.1, 0.6)
  const advance = between(2, 22)
  const dt = 1 / 24000
  const wander = q.wander ?? 0.03
  const w1 = between(0.15, 0.5)
  const p1 = between(0, 6.28)
  const w2 = between(0.7, 1.6)
  const p2 = between(0, 6.28)
  const speedAt = (t: number): number =>
    q.rpm * (1 + wander * (0.7 * Math.sin(2 * Math.PI * w1 * t + p1) + 0.3 * Math.sin(2 * Math.PI * w2 * t + p2)))
  const port = vc * between(0.2, 0.5)
  const u = new Float64Array(n)
  const pp = new Float64Array(n).fill(meanPa)
  let ppl = meanPa
  // per position: charge of the cycle in hand
  const charge = new Float64Array(n).fill(1)
  const began = new Float64Array(n).fill(-1)
  let crank = -720 * 3
  const out: number[] = []
  const marks: number[] = []
  const times: number[] = []
  let t = (-3 * 120) / q.rpm
  let meanFlow = (meanPa / R_T) * vc * 0.85 * (q.rpm / 120) * n
  let nextMark: number | undefined
  const end = q.seconds + 0.05
  const torque = new Float64Array(n).fill(1)
  let ripple = 0
  while (t < end) {
    const rate = speedAt(Math.max(0, t)) * 6 * (1 + ripple)
    crank += rate * dt
    t += dt
    let drawn = 0
    for (let j = 0; j < n; j++) {
      const cyl = order[j]
      // own cycle from the top of the gas exchange
      const own = crank - (720 * j) / n - 360
      const cycle = Math.floor(own / 720)
      let a = own - cycle * 720
      if (a > 600) a -= 720
      if (cycle !== began[j] && a > -20 && a < 40) {
        began[j] = cycle
        charge[j] = Math.max(0.05, (1 + (q.cycleSpread ?? 0.15) * normal(random)) * sound[j])
        torque[j] = charge[j]
        if (q.weak && q.weak.cylinder === cyl) charge[j] *= 1 - q.weak.share
      }
      let flow = 0
      if (a > opens && a < closes) {
        const lift = Math.sin((Math.PI * (a - opens)) / (closes - opens)) ** 0.7
        const rad = (a * Math.PI) / 180
        const piston = 0.5 * Math.sin(rad) * (1 + (0.29 * Math.cos(rad)) / Math.sqrt(1 - (0.29 * Math.sin(rad)) ** 2))
        flow = (pp[j] / R_T) * vc * 0.85 * piston * lift * charge[j] * 1.25 * ((rate * Math.PI) / 180)
        if (a < opens + 28)
          flow -= ((overlap * vc * meanPa) / R_T) * 3 * ((rate * Math.PI) / 180) * (1 - (a - opens) / 28)
      }
      if (q.weak && q.weak.kind === 'valve' && q.weak.cylinder === cyl && a >= closes && a < 350) {
        const rise = Math.sin((Math.PI * (a - closes)) / (350 - closes)) ** 2
        flow -= q.weak.share * 0.75 * (meanPa / R_T) * vc * rise * ((rate * Math.PI) / 180) * 0.7
      }
      // runner: inertia and friction
      u[j] += (dt * (area * (ppl - pp[j]))) / lengths[j] - dt * 22 * u[j]
      pp[j] += (dt * 1.4 * R_T * (u[j] - flow)) / port
      if (pp[j] < 2000) pp[j] = 2000
      drawn += u[j]
    }
    // the plate is choked, or nearly
    const inflow = meanFlow * Math.min(1.2, Math.sqrt(Math.max(0.01, (101000 - ppl) / (101000 - meanPa))))
    ppl += (dt * 1.4 * R_T * (inflow - drawn)) / plenum
    if (t < 0) meanFlow *= 1 + (dt * 2 * (meanPa - ppl)) / meanPa
    if (ppl < 3000) ppl = 3000
    const fires = Math.floor((((crank % 720) + 720) % 720) / (720 / n))
    ripple += dt * 60 * (0.02 * (torque[fires] - 1) - ripple)
    if (t >= 0) {
      out.push(ppl)
      times.push(t)
      marks.push(0)
    }
    const markAt = Math.ceil((crank + advance) / 720) * 720 - advance
    nextMark ??= markAt
    if (crank >= nextMark) {
      if (t >= 0) marks[marks.length - 1] = 1
      nextMark += 720
    }
  }
  // hose and transducer
  const delay = Math.round(hoseM / SOUND_MS / dt)
  const lag = dt / (between(0.0002, 0.0012) + dt)
  let felt = out[0]
  const total = Math.floor(q.seconds * q.sampleHz)
  const pressure = new Float64Array(total)
  const trigger = new Float64Array(total)
  const seen = out.map((_, i) => (felt += ((out[Math.max(0, i - delay)] ?? out[0]) - felt) * lag))
  let sum = 0
  for (let i = 0; i < total; i++) {
    const x = i / q.sampleHz / dt
    const k = Math.min(seen.length - 2, Math.floor(x))
    pressure[i] = (seen[k] + (x - k) * (seen[k + 1] - seen[k])) / 1000
    sum += pressure[i]
  }
  const mean = sum / total
  let power = 0
  for (const p of pressure) power += (p - mean) ** 2 / total
  const noise = Math.sqrt(power) * 10 ** (-(q.snrDb ?? 20) / 20)
  for (let i = 0; i < total; i++) pressure[i] += noise * normal(random)
  const wide = Math.max(1, Math.round(0.0008 * q.sampleHz))
  marks.forEach((m, k) => {
    if (!m) return
    const at = Math.round(times[k] * q.sampleHz)
    for (let i = at; i < at + wide && i < total; i++) trigger[i] = 5
  })
  return { pressure, trigger, sampleHz: q.sampleHz }
}

/** A note as a tailpipe makes it: firing harmonics, weaker half orders, wandering speed, white or low noise at 10 dB. */
export function notes(seed: number): { signal: Float64Array; sampleHz: number; cylinders: number; rpm: number } {
  const r = randomOf(seed)
  const cylinders = [3, 4, 5, 6, 8, 10][seed % 6]
  const sampleHz = [8000, 22050, 44100][seed % 3]
  const rpm = 600 + 2600 * r() ** 1.5
  const sizes = Array.from({ length: 6 * cylinders }, (_, i) => {
    const k = (i + 1) / cylinders
    return Number.isInteger(k) ? (0.5 + r()) / k : (0.35 * r() ** 2) / (0.5 + k)
  })
  const phases = sizes.map(() => 2 * Math.PI * r())
  const signal = new Float64Array(4 * sampleHz)
  const drift = 0.06 * (r() - 0.5)
  let angle = 0
  let power = 0
  for (let i = 0; i < signal.length; i++) {
    angle += (rpm * (1 + drift * Math.sin((2 * i) / sampleHz))) / 120 / sampleHz
    let x = 0
    for (let k = 0; k < sizes.length; k++) x += sizes[k] * Math.cos(2 * Math.PI * (k + 1) * angle + phases[k])
    signal[i] = x
    power += (x * x) / signal.length
  }
  const noise = Math.sqrt(power / 10)
  let low = 0
  for (let i = 0; i < signal.length; i++) {
    const white = normal(r)
    low = 0.98 * low + 0.2 * white
    signal[i] += noise * (seed % 2 ? white : low)
  }
  return { signal, sampleHz, cylinders, rpm }
}
