import { hasMaf, hasMap, trimBanksOf } from '../engine/index.js'
import type { ChannelId } from '../signals/index.js'
import type { EngineView } from './view.js'

/** Rounds to a resolution. */
export const quantised = (x: number, stepSize: number): number => Math.round(x / stepSize) * stepSize

/** Values by channel, canonical units. */
export type Reading = Partial<Record<ChannelId, number>>

const trim = (x: number): number => quantised(100 * x, 100 / 128)

/**
 * What the controller reports at a moment, each channel by itself: a link asks for some of them at a time. J1979
 * resolutions; noise of the sensors only where one is given.
 */
export function readChannels(e: EngineView, noise: () => number = () => 0): Reading {
  const { vehicle: v, character: c, faults: f, surroundings: s } = e
  const turning = e.rpm > 30
  const row: Reading = {
    time_s: quantised(e.timeS, 0.001),
    rpm: turning ? quantised(e.rpm + 2.5 * noise(), 0.25) : 0,
    speed_kph: Math.round(e.kph),
    load_pct: quantised(100 * Math.min(1, Math.max(0, e.load * (1 + 0.004 * noise()))), 100 / 255),
    ect_c: f.ectOpen ? -40 : Math.round(e.coolantC + 0.3 * noise()),
    iat_c: f.iatOpen ? -40 : Math.round(e.intakeC + 0.2 * noise()),
    baro_kpa: Math.round((s.ambientPa + (hasMap(v) ? f.mapOffsetPa : 0)) / 1000),
  }
  if (hasMap(v)) row.map_kpa = Math.round(e.mapRead / 1000 + (turning ? 0.25 * noise() : 0))
  if (hasMaf(v)) row.maf_gs = quantised(Math.max(0, e.mafRead * 1e3 * (1 + 0.006 * noise())), 0.01)
  row.throttle_pct = quantised(c.throttleZeroPct + 100 * e.plate * (1 - c.throttleZeroPct / 100), 100 / 255)
  if (v.idleControl === 'idle-valve') row.idle_valve_pct = quantised(100 * e.valve, 100 / 255)
  if (v.fuel === 'gasoline' && v.metering !== 'none') {
    const m = e.mixture
    row.stft1_pct = trim(m.stft[0])
    row.ltft1_pct = trim(m.ltft[0][e.cell])
    if (trimBanksOf(v) === 2) {
      row.stft2_pct = trim(m.stft[1])
      row.ltft2_pct = trim(m.ltft[1][e.cell])
    }
    row.lambda_cmd = e.closedLoop ? 1 : e.lambdaCommand
    row.fuel_status = e.closedLoop ? 1 : 0
    if (v.wideband) {
      const lambda = (x: number): number => quantised(Math.min(2, x * (1 + 0.003 * noise())), 1 / 32768)
      row.lambda1 = lambda(m.seen[0])
      if (trimBanksOf(v) === 2) row.lambda2 = lambda(m.seen[1])
    }
    if (c.purgeFullMm2 > 0) row.purge_pct = quantised(100 * e.purgeCommand, 100 / 255)
  }
  if (v.chargeSensor) row.charge_kpa = quantised((e.chargePa + f.chargeOffsetPa) / 1000 + 0.15 * noise(), 0.03125)
  if (v.egr === 'valve') row.egr_pct = quantised(100 * e.egrCommand, 100 / 255)
  if (v.throttle === 'electronic') row.pedal_pct = quantised(14.9 + 0.7 * 100 * e.pedal, 100 / 255)
  row.battery_v = (e.running ? 14.1 : 12.5) + 0.04 * noise()
  return row
}
