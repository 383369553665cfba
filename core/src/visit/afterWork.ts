import { hasController, inletsOf, kindOfStation } from '../engine/index.js'
import { ADAPTATIONS } from '../procedures/index.js'
import { batteryWasOff } from './codes.js'
import { COOLANT_BLED, COOLANT_FILLED, coolantSeen } from './closing.js'
import { feedsOf } from './afterFeed.js'
import { live, type VisitFile } from './records.js'
import { remediesOf } from './remedies.js'
import { feedOfRun } from './runs.js'

/** One act between the last fastener and the road, made from what was opened and done. */
export interface AfterAct {
  readonly id: string
  readonly when: 'before the start' | 'starting' | 'running' | 'afterwards'
  readonly say: string
  readonly why: string
  /** A wait that a timer counts. */
  readonly waitS?: number
  /** Seen to by its own tick elsewhere on the bench, else by one of `afterTick`. */
  readonly done: boolean
  /** Ticked on its own part of the bench. */
  readonly elsewhere?: boolean
}

/** The tick of an act. */
export const afterTick = (id: string): string => `after:${id}`

/** Key-on wait, starter at most, and its rest [s]; ours, the maker's figures win. */
const KEY_ON_S = 30
const CRANK_MOST_S = 10
const STARTER_REST_S = 60
const FIRST_MINUTE_S = 60

/** What is to be done after this visit's work, in order; only what the work calls for. Empty where nothing was opened or done. */
export function afterWorkOf(f: VisitFile): AfterAct[] {
  const v = f.vehicle.spec
  const items = live(f.items)
  const remedies = remediesOf(f)
  if (!items.length && !remedies.length) return []
  const since = remedies.reduce(
    (at, r) => (r.at > at ? r.at : at),
    items.reduce((at, i) => (i.at > at ? i.at : at), ''),
  )
  const ticked = (id: string): boolean => live(f.ticks).some((t) => t.caution === afterTick(id) && t.at >= since)
  const carries = (what: string): boolean => items.some((i) => i.more?.carries === what)
  const battery = batteryWasOff(f)
  const learns = hasController(v)
  const throttleTouched =
    items.some((i) => kindOfStation(i.station) === 'throttle') ||
    live(f.steps).some((s) => kindOfStation(s.station) === 'throttle')
  const feeds = feedsOf(f)
  const flooded = feeds.some((r) => feedOfRun(f, r)?.locks)
  const out: AfterAct[] = []
  const put = (act: Omit<AfterAct, 'done'> & { readonly done?: boolean }): void =>
    void out.push({ ...act, done: act.done ?? ticked(act.id) })

  if (battery)
    put({
      id: 'battery-on',
      when: 'before the start',
      say: 'Battery on: positive first, negative last, hold-down on, terminals greased',
      why: `Then clock, windows and seats. Forgotten until learnt again: ${ADAPTATIONS.filter(
        (a) => a.id !== 'egr' || v.egr !== 'none',
      )
        .map((a) => a.label)
        .join(', ')}, readiness. A new battery may need registering.`,
    })
  if (carries('coolant'))
    put({
      id: 'coolant',
      when: 'before the start',
      say: 'Coolant filled before the start, bled warm, level again',
      why: 'Air behind the thermostat reads as cold and boils at one spot.',
      done: coolantSeen(f, COOLANT_FILLED) && coolantSeen(f, COOLANT_BLED),
      elsewhere: true,
    })
  if (feeds.length || carries('oil') || items.some((i) => i.more?.kind === 'cover'))
    put({
      id: 'oil',
      when: 'before the start',
      say: flooded ? 'Oil changed, filter too' : 'Oil: level and smell',
      why: flooded
        ? 'Liquid stood on a cylinder: what passed the rings thins the oil, whatever it smells of.'
        : 'Higher, thin or smelling of solvent: change it before it runs.',
    })
  if (learns && v.throttle === 'electronic' && (throttleTouched || battery))
    put({
      id: 'key-on',
      when: 'before the start',
      say: `Key on, engine off, ${KEY_ON_S} s, feet off the pedal${inletsOf(v) > 1 ? 's; each throttle' : ''}`,
      why: 'The plate finds its stops; started too early it flares or stalls.',
      waitS: KEY_ON_S,
    })
  if (carries('fuel'))
    put({
      id: 'fuel-pressure',
      when: 'before the start',
      say: 'Fuel pressure built: key on three times, each joint looked at dry',
      why: 'An open line is air in the rail; a joint that drips is found before there is a spark.',
    })
  if (feeds.length && v.fuel === 'gasoline' && learns)
    put({
      id: 'clear-flood',
      when: 'starting',
      say: 'First crank with the pedal flat down, where the maker has it; three tries',
      why: 'It keeps the injectors shut while liquid is blown out. Only where cranking is free and even.',
    })
  put({
    id: 'crank',
    when: 'starting',
    say: `Crank ${CRANK_MOST_S} s at most, then the starter rests ${STARTER_REST_S} s`,
    why: `${carries('fuel') ? 'An emptied rail takes long. ' : ''}Slow, uneven or stopped is liquid: stop at once.`,
    waitS: STARTER_REST_S,
  })
  put({
    id: 'first-minute',
    when: 'running',
    say: 'The first minute watched: it runs, oil lamp out, speed comes down',
    why: 'A flare, white smoke and a stumble belong to it; a rising temperature, a knock or a flashing lamp does not: engine off.',
    waitS: FIRST_MINUTE_S,
  })
  put({
    id: 'leaks',
    when: 'running',
    say: `Looked for leaks: ${['hiss at every joint that was off', carries('coolant') ? 'coolant' : '', carries('fuel') ? 'fuel' : '', carries('oil') ? 'oil' : ''].filter(Boolean).join(', ')}`,
    why: 'Warm and running, before anything is called closed.',
  })
  if (learns) {
    const read = live(f.codes).some((c) => c.when !== 'before' && c.at >= since)
    put({
      id: 'codes',
      when: 'running',
      say: 'Codes read: with the engine warm, pending too',
      why: 'Only one that was not there before, and that something done here can set, may be ours.',
      done: read || ticked('codes'),
    })
    const ours = live(f.codes).some((c) => c.when === 'after')
    if (ours || battery || live(f.codes).some((c) => c.cleared))
      put({
        id: 'codes-after-drive',
        when: 'afterwards',
        say: 'Driven, and the codes read again',
        why: 'A code that comes back after a drive is a finding, whoever set it first.',
        done: live(f.codes).some((c) => c.when === 'after-drive' && c.at >= since) || ticked('codes-after-drive'),
      })
  }
  return out
}

/** A readiness monitor that an inspection asks for, and what a drive must give it. */
export interface Monitor {
  readonly id: string
  readonly label: string
  readonly needs: string
}

/** Monitors of this engine that go back to "not ready" when codes are cleared or the battery is off. */
export function monitorsOf(f: VisitFile): readonly Monitor[] {
  const v = f.vehicle.spec
  if (v.injection === 'carburettor') return []
  const m = (id: string, label: string, needs: string): Monitor => ({ id, label, needs })
  const diesel = v.fuel === 'diesel'
  return [
    diesel
      ? m('egr-flow', 'exhaust gas and airflow', 'warm, steady light load, then overrun from speed')
      : m('oxygen', 'oxygen sensors', 'warm, ten minutes of steady cruise, then overrun'),
    ...(diesel
      ? [m('filter', 'particulate filter', 'warm, a quarter of an hour of steady load')]
      : [
          m(
            'catalyst',
            'catalyst',
            'warm, five to ten minutes of steady cruise at light load, no full throttle before',
          ),
        ]),
    ...(v.egr !== 'none' && !diesel
      ? [m('egr', 'exhaust gas recirculation', 'warm cruise, then foot off in gear without braking')]
      : []),
    ...(v.purge !== false && !diesel
      ? [
          m(
            'evap',
            'fuel vapour system',
            'a cold start after a night, tank a quarter to three quarters full, cap clicked',
          ),
        ]
      : []),
  ]
}

/** Whether readiness is gone by this visit's work: codes cleared, or the battery off. */
export const readinessWiped = (f: VisitFile): boolean => live(f.codes).some((c) => c.cleared) || batteryWasOff(f)
