import { requireRange } from '../statistics/index.js'

/** Constants of feeding, each conservative and adjustable downward only. */
export const FEED = {
  /** Least λ over ten seconds: catalyst and misfire. */
  lambdaMin: 0.85,
  /** Least λ over any one second: stall. */
  lambdaSecond: 0.65,
  /** At the end of a shot the mixture rebounds to 1/ρ; beyond 1.20 it misfires. */
  reboundRho: 0.83,
  /** Share of one cylinder's clearance volume that all unburnt liquid together may reach. */
  clearanceShare: 0.1,
  densityGMl: 0.8,
  /** Evaporation of the film at 90 °C [s]; longer when cooler. */
  filmS: 40,
  /** Water per air, by mass. */
  waterPerAir: 0.03,
  coolantMinC: 75,
  coolantMaxC: 105,
} as const

/** Trim authority from where it stands now. All as shares [–]; undefined means unknown or open loop. */
export interface TrimAuthority {
  readonly total: number
  readonly totalMin: number
  readonly short: number
  readonly shortMin: number
}

/** ρ [–]: how far the controller can take fuel away within a shot; 1 when unknown. */
export function trimRho(t: TrimAuthority | undefined): number {
  if (!t) return 1
  requireRange('total', t.total, t.total > -1, '> −1')
  requireRange('short', t.short, t.short > -1, '> −1')
  return Math.min(1, Math.max((1 + t.totalMin) / (1 + t.total), (1 + t.shortMin) / (1 + t.short), FEED.reboundRho))
}

/**
 * Largest combustible feed, s = ṁ/AFRs·(1/λ − ρ) [g/s].
 *
 * ṁ 6.0 g/s, AFRs 14.5, λ 0.85: ρ 0.83 gives 0.143, ρ 0.90 0.114, ρ 1 0.073; over one second (λ 0.65, ρ 1) 0.223.
 */
export function mixtureLimitGS(airGS: number, afr: number, lambda: number, rho: number): number {
  requireRange('airGS', airGS, airGS >= 0, '≥ 0 g/s')
  requireRange('afr', afr, afr > 0, '> 0')
  requireRange('lambda', lambda, lambda > 0, '> 0')
  requireRange('rho', rho, rho > 0 && rho <= 1, '0..1')
  return Math.max(0, (airGS / afr) * (1 / lambda - rho))
}

/** Clearance volume of one cylinder, Vc = Vd/(z·(CR − 1)) [mL]. 2.4 L, 4, 10.5: 63.2. */
export function clearanceMl(displacementL: number, cylinders: number, compressionRatio: number): number {
  requireRange('compressionRatio', compressionRatio, compressionRatio > 1, '> 1')
  requireRange('cylinders', cylinders, cylinders >= 1, '≥ 1')
  return (displacementL * 1000) / (cylinders * (compressionRatio - 1))
}

/** Most liquid that may be unburnt anywhere, at any moment [mL]. */
export const liquidBoundMl = (displacementL: number, cylinders: number, compressionRatio: number): number =>
  FEED.clearanceShare * clearanceMl(displacementL, cylinders, compressionRatio)

/** Evaporation time of the film [s]: 40 s at 90 °C, twice that for every 25 K less. */
export function filmSeconds(coolantC: number): number {
  requireRange('coolantC', coolantC, coolantC > -50 && coolantC < 150, '−50..150 °C')
  return FEED.filmS * 2 ** (Math.max(0, 90 - coolantC) / 25)
}

/** Peak film of an endless row of shots, w·q·τ·(1 − e^(−d/τ))/(1 − e^(−(d+p)/τ)) [mL]. */
export function peakFilmMl(rateMlS: number, wetShare: number, tauS: number, shotS: number, pauseS: number): number {
  return (wetShare * rateMlS * tauS * (1 - Math.exp(-shotS / tauS))) / (1 - Math.exp(-(shotS + pauseS) / tauS))
}
