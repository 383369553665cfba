/** What a passage between cylinders and transducer may be like; each is one guess among many. */
export interface Passage {
  /** Intake valve opens before and closes after the bottom [° crank after the top of the gas exchange]. */
  readonly opens: number
  readonly closes: number
  /** Share of a pull that comes back at the overlap [–]. */
  readonly back: number
  /** Corner of the plenum's filling [orders of half the crank]. */
  readonly corner: number
  /** Resonance of plenum and runners [orders of half the crank], with its damping; left out: none. */
  readonly resonance?: { readonly order: number; readonly damping: number }
}

/** Connecting rod: crank radius over rod length [–]; ordinary. */
const ROD = 0.3
const DEG = Math.PI / 180

/** Exhaust opens [° after the firing top]; the puff is steep and dies away over this much [°]. */
const EXHAUST_OPENS = 140
const PUFF = 55

/**
 * What one cylinder draws through its valve over its own cycle, one figure a degree from the top of the gas exchange, of
 * sum 1. Piston speed: ½ sin φ (1 + λ cos φ / √(1 − λ² sin² φ)). Source: Heywood, Internal Combustion Engine
 * Fundamentals, eq. 2.11; the valve opens and shuts over 45°.
 */
function drawn(p: Passage): Float64Array {
  const out = new Float64Array(720)
  let sum = 0
  for (let d = Math.ceil(p.opens); d <= p.closes; d++) {
    const a = d * DEG
    const speed = 0.5 * Math.sin(a) * (1 + (ROD * Math.cos(a)) / Math.sqrt(1 - (ROD * Math.sin(a)) ** 2))
    const lift = Math.min(1, (d - p.opens) / 45, (p.closes - d) / 45)
    const q = speed * Math.max(0, lift)
    out[(d + 720) % 720] += q
    sum += q
  }
  for (let d = 0; d < 720; d++) out[d] /= sum
  if (p.back > 0) for (let d = 0; d < 24; d++) out[(d + 712) % 720] -= (p.back / 24) * (2 - d / 12)
  return out
}

/** What one cylinder blows out: a puff as its valve opens, then what the piston pushes. */
function blown(): Float64Array {
  const out = new Float64Array(720)
  let sum = 0
  for (let d = 0; d < 240; d++) {
    // from the top of the gas exchange: the valve opened 220° before it
    const q = (d / 12) * Math.exp(1 - d / 12) + 0.5 * Math.exp(-(((d - PUFF - 60) / 70) ** 2))
    out[(d + EXHAUST_OPENS + 360) % 720] = q
    sum += q
  }
  for (let d = 0; d < 720; d++) out[d] /= sum
  return out
}

function ordersOfShape(shape: Float64Array, most: number): Float64Array {
  const out = new Float64Array(2 * (most + 1))
  for (let k = 0; k <= most; k++)
    for (let d = 0; d < 720; d++) {
      const a = (2 * Math.PI * k * d) / 720
      out[2 * k] += shape[d] * Math.cos(a)
      out[2 * k + 1] -= shape[d] * Math.sin(a)
    }
  return out
}

/**
 * Orders of the pressure that one cylinder's draw leaves at the transducer, but for a scale and a delay: shape of the
 * draw, emptying of the plenum 1/(ik + c), a resonance r²/(r² − k² + 2iζrk). Pressure falls as it is drawn.
 */
export function responseOf(p: Passage, most: number): Float64Array {
  const out = ordersOfShape(drawn(p), most)
  for (let k = 1; k <= most; k++) {
    let re = -out[2 * k]
    let im = -out[2 * k + 1]
    const plenum = p.corner ** 2 + k ** 2
    ;[re, im] = [(re * p.corner + im * k) / plenum, (im * p.corner - re * k) / plenum]
    if (p.resonance) {
      const { order: r, damping } = p.resonance
      const a = 1 - (k / r) ** 2
      const b = (2 * damping * k) / r
      const size = a ** 2 + b ** 2
      ;[re, im] = [(re * a + im * b) / size, (im * a - re * b) / size]
    }
    out[2 * k] = re
    out[2 * k + 1] = im
  }
  return out
}

/** The same for a puff at the tailpipe: pressure rises, and nothing is stored on the way. */
export const exhaustResponse = (most: number): Float64Array => ordersOfShape(blown(), most)

/** Where runners and ports resonate in ordinary intakes [Hz], and how much they are damped. */
const RESONANCES_HZ = [70, 105, 150, 210, 290]
const DAMPINGS = [0.12, 0.35]

/** The passages that are weighed against each other at a speed. */
export function passagesAt(rpm: number): Passage[] {
  const resonances: (Passage['resonance'] | undefined)[] = [undefined]
  for (const hz of RESONANCES_HZ) for (const damping of DAMPINGS) resonances.push({ order: (120 * hz) / rpm, damping })
  const out: Passage[] = []
  for (const closes of [200, 222, 244])
    for (const back of [0, 0.08])
      for (const corner of [0.2, 1])
        for (const resonance of resonances) out.push({ opens: -8, closes, back, corner, resonance })
  return out
}

/**
 * Size that a response of this kind has at an order where its lobes do not cancel: a draw of 200° has orders at which it
 * leaves next to nothing, and there a guess is as uncertain as beside them.
 */
export const envelopeAt = (k: number): number => 1 / (k * (1 + (k / 3.4) ** 2))
