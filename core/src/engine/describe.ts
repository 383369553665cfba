import type { Vehicle } from './vehicle.js'

const IN_LINE: Readonly<Record<number, string>> = { 1: 'single', 2: 'twin', 3: 'three', 4: 'four', 5: 'five' }

/** How the cylinders stand, as people say it: "four", "straight 6", "V10", "flat four". */
function describeCylinders(v: Pick<Vehicle, 'cylinders' | 'banks' | 'layout'>): string {
  const count = IN_LINE[v.cylinders] ?? String(v.cylinders)
  if (v.layout === 'flat') return `flat ${count}`
  if (v.banks === 2) return `V${v.cylinders}`
  return IN_LINE[v.cylinders] ?? `straight ${v.cylinders}`
}

/** A vehicle as people say it: "V6 2.9, airflow sensor". */
export function describeEngine(v: Vehicle): string {
  const metering = {
    maf: 'airflow sensor',
    map: 'pressure sensor',
    'maf+map': 'airflow and pressure sensors',
    none: v.injection === 'carburettor' ? 'carburetted' : 'no air metering',
  }[v.metering]
  const turbo = v.induction === 'turbo' ? ' turbo' : ''
  const diesel = v.fuel === 'diesel' ? ' diesel' : ''
  return `${describeCylinders(v)} ${v.displacementL.toFixed(1)}${turbo}${diesel}, ${metering}`
}
