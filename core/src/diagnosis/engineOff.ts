import { standardPressurePa } from '../air/index.js'
import { hasController, hasMaf, type Vehicle } from '../engine/index.js'
import { ZERO_AIRFLOW_GS } from '../expectation/index.js'
import type { ChannelId, OperatingPoint } from '../signals/index.js'
import { needGS } from './deadSensors.js'
import type { Finding } from './evidence.js'
import { figureText } from '../units/index.js'
import { temperatureBeyond } from './sensorObservations.js'

/** What sensors tell with the ignition on and the engine still that cannot be, and what is done about it. */
export interface EngineOffDoubt {
  /** Left out where nothing has to be done about it first. */
  readonly act?: string
  /** What of it is a finding, as the customer reads it. */
  readonly said?: string
  readonly message: string
}

/** Coolant of an engine that has stood for hours [°C]; of one that is warmer intake and coolant differ. */
const COLD_C = 45
/** A cold engine's intake is within the first of its coolant, and not warmer than it by the second [K]; ours. */
const ONE_TEMPERATURE_K = { alike: 8, apart: 15 } as const
/** An airflow of nothing from this share of what idle needs is seen to before anything that the sensor tells [–]; ours. */
const MUCH_OF_IDLE = 0.2
/** Two sensors of one pressure agree within the first; weather, or a barometer that is trusted, within the others [kPa]. */
const AGREES_KPA = { sensors: 3, weather: 5, trusted: 2 } as const

const readAt = (points: readonly OperatingPoint[], id: ChannelId): number | undefined =>
  points.find((p) => p.kind === 'key-on' && p.means[id] !== undefined)?.means[id]

/** Whether the temperatures of a car that stood cold are one; undefined where it did not, or where it cannot be told. */
function isOneTemperature(points: readonly OperatingPoint[]): boolean | undefined {
  const intakeC = readAt(points, 'iat_c')
  const coolantC = readAt(points, 'ect_c')
  if (intakeC === undefined || coolantC === undefined || coolantC > COLD_C) return undefined
  if (Math.abs(intakeC - coolantC) <= ONE_TEMPERATURE_K.alike) return true
  // what was driven hours ago keeps its coolant warmer than the air; nothing keeps the air that much warmer
  return intakeC - coolantC > ONE_TEMPERATURE_K.apart ? false : undefined
}

/** Tests that what was read with the engine standing has answered. @param points - merged */
export function engineOffAnswers(points: readonly OperatingPoint[], v: Vehicle): Finding[] {
  const out: Finding[] = []
  const airflow = readAt(points, 'maf_gs')
  if (hasMaf(v) && airflow !== undefined)
    out.push({ test: 'maf-key-on', outcome: airflow > ZERO_AIRFLOW_GS ? 'fail' : 'pass' })
  const one = hasController(v) ? isOneTemperature(points) : undefined
  if (one !== undefined) out.push({ test: 'temperatures-cold', outcome: one ? 'pass' : 'fail' })
  return out
}

function airflowDoubt(points: readonly OperatingPoint[], v: Vehicle): EngineOffDoubt | undefined {
  const gs = readAt(points, 'maf_gs')
  if (!hasMaf(v) || gs === undefined || gs <= ZERO_AIRFLOW_GS) return undefined
  const said = `With the engine off the airflow sensor reads ${gs.toFixed(1)} g/s, where nothing flows.`
  const idleRpm = (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
  return gs / needGS(v, idleRpm) < MUCH_OF_IDLE || v.fuel === 'diesel'
    ? { message: `${said} A draught through the open box does that too.` }
    : {
        act: 'Look at the airflow sensor’s plug and earth',
        said,
        message: `${said} Its plug, earth and supply first, with the air box closed and nothing blowing at it; then read it again.`,
      }
}

function temperatureDoubt(points: readonly OperatingPoint[], v: Vehicle): EngineOffDoubt | undefined {
  // one that no car shows is told as the cause that it is
  if (!hasController(v) || isOneTemperature(points) !== false || points.some(temperatureBeyond)) return undefined
  const [intake, coolant] = (['iat_c', 'ect_c'] as const).map((id) => figureText(readAt(points, id)!, 0))
  const said = `With the engine off and cold the intake air reads ${intake} °C and the coolant ${coolant} °C.`
  return { said, message: `${said} A cold car has one temperature: one of the two sensors, its plug or its wire.` }
}

/** The charge pressure sensor against the other pressures of a standing engine: all of them stand in the same air. */
function chargeDoubt(
  points: readonly OperatingPoint[],
  v: Vehicle,
  isTrusted: boolean | undefined,
): EngineOffDoubt | undefined {
  const charge = readAt(points, 'charge_kpa')
  if (charge === undefined || v.induction !== 'turbo') return undefined
  const belongs = standardPressurePa(v.altitudeM) / 1000
  const within = isTrusted ? AGREES_KPA.trusted : AGREES_KPA.weather
  const fits = (kpa: number): boolean => Math.abs(kpa - belongs) < within
  const map = readAt(points, 'map_kpa')
  const reported = points.find((p) => p.means.baro_kpa !== undefined)?.means.baro_kpa
  const beside = map ?? reported
  const kpa = (x: number): string => x.toFixed(0)
  if (beside === undefined)
    return fits(charge)
      ? undefined
      : {
          act: 'Check the charge pressure sensor',
          said: `With the engine off the charge pressure sensor reads ${kpa(charge)} kPa, where ${kpa(belongs)} belongs at this height.`,
          message: `With the engine off the charge pressure sensor reads ${kpa(charge)} kPa, where ${kpa(belongs)} belongs: it is off, or the height at the head of the visit is not that of this place.`,
        }
  if (Math.abs(charge - beside) < AGREES_KPA.sensors) return undefined
  const both = `With the engine off the charge pressure sensor reads ${kpa(charge)} kPa and the ${map === undefined ? 'barometer of the controller' : 'manifold sensor'} ${kpa(beside)}, in the same air`
  if (fits(beside) && !fits(charge))
    return {
      act: 'Check the charge pressure sensor',
      said: `${both}; about ${kpa(belongs)} belongs here.`,
      message: `${both}; about ${kpa(belongs)} belongs here: it is the charge sensor that is off. Its port and plug first; the controller blows by what it reads.`,
    }
  // what is said of the manifold sensor stands in the ranking
  if (fits(charge) && !fits(beside))
    return { message: `${both}; about ${kpa(belongs)} belongs here, and the charge sensor bears that out.` }
  return {
    act: 'Compare the two pressure sensors',
    said: `${both}: one of them is off.`,
    message: `${both}: one of them is off, and which of them these two do not tell. A gauge or a barometer that is trusted tells it, before either is bought.`,
  }
}

/** What stands in no standing engine. @param points - merged @param isTrusted - the pressure of the place was read from a barometer of the shop's own */
export const engineOffDoubts = (
  points: readonly OperatingPoint[],
  v: Vehicle,
  isTrusted?: boolean,
): readonly EngineOffDoubt[] =>
  [airflowDoubt(points, v), temperatureDoubt(points, v), chargeDoubt(points, v, isTrusted)].filter(
    (x) => x !== undefined,
  )
