// npm run bench:balance [-- CASES]: waveforms of made-up engines against what the balance and the speed say of them; one JSON
// object a line. Weak cylinders lack 15 %; three seconds, noise at 20 dB, speed wandering by 3 %, 15 % from cycle to cycle.
import { balanceOf, speedOf, type BalanceAsked } from '@uvula/core'
import { notes, pulses, randomOf, type PulseRequest, type Pulses } from './balance-bench/pulses.js'

const cases = Number(process.argv[2] ?? 100)
function line(bench: string, value: number, unit: string, bar: number, met: boolean): void {
  process.stdout.write(JSON.stringify({ bench, value: Number(value.toFixed(3)), unit, bar, met }) + '\n')
}
const asked = (n: number, w: Pulses): BalanceAsked => ({
  vehicle: { cylinders: n, banks: n === 8 ? 2 : 1 },
  wave: { sampleHz: w.sampleHz, signal: w.pressure, unit: 'kPa', trigger: w.trigger },
})

let named = 0
let weak = 0
let accused = 0
let sound = 0
for (const n of [3, 4, 5, 6, 8, 10]) {
  const own = { named: 0, weak: 0, accused: 0, sound: 0, refused: 0 }
  for (let s = 0; s < cases; s++) {
    const r = randomOf(1000 * n + s)
    const rpm = 650 + 1900 * r() ** 1.5
    const cylinder = 1 + Math.floor(r() * n)
    const fault: PulseRequest['weak'] =
      s % 2 ? { cylinder, share: 0.15, kind: r() < 0.5 ? 'runner' : 'valve' } : undefined
    const w = pulses({
      cylinders: n,
      rpm,
      seconds: 3,
      sampleHz: [2000, 5000, 10000][s % 3],
      seed: 7 * s + n,
      weak: fault,
    })
    const b = balanceOf(asked(n, w))
    if (!b.ok) own.refused++
    if (fault) {
      own.weak++
      if (b.ok && b.value.odd?.cylinder === cylinder) own.named++
    } else {
      own.sound++
      if (b.ok && b.value.odd) own.accused++
    }
  }
  line(
    `balance-named-${n}`,
    own.named / own.weak,
    `of ${own.weak} weak cylinders of ${n}, ${own.refused} refused`,
    0.95,
    own.named / own.weak >= 0.95,
  )
  line(
    `balance-accused-${n}`,
    own.accused / own.sound,
    `of ${own.sound} sound engines of ${n}`,
    0.02,
    own.accused / own.sound <= 0.02,
  )
  named += own.named
  weak += own.weak
  accused += own.accused
  sound += own.sound
}
line('balance-named', named / weak, `of ${weak} weak cylinders`, 0.95, named / weak >= 0.95)
line('balance-accused', accused / sound, `of ${sound} sound engines`, 0.02, accused / sound <= 0.02)

const long = pulses({ cylinders: 6, rpm: 900, seconds: 60, sampleHz: 20000, seed: 1 })
const began = performance.now()
balanceOf(asked(6, long))
const ms = performance.now() - began
line('balance-60-s-at-20-kHz', ms / 1000, 's', 1, ms < 1000)

let right = 0
let wrong = 0
const all = 3 * cases
for (let s = 0; s < all; s++) {
  const { signal, sampleHz, cylinders, rpm } = notes(s + 1)
  const heard = speedOf(signal, sampleHz, { cylinders })
  const off = heard.rpm ? Math.abs(heard.rpm.median / rpm - 1) : undefined
  if (off !== undefined && off <= 0.02) right++
  else if (off !== undefined && off > 0.2) wrong++
}
line('speed-within-2-percent', right / all, `of ${all} notes at 10 dB`, 0.95, right / all >= 0.95)
line('speed-wrong-octave', wrong, `of ${all} notes at 10 dB`, 0, wrong === 0)
