import { describe, expect, it } from '@jest/globals'
import { readRecording } from './index.js'
import { matchesOf, SURE_SCORE, CLOSE_SCORE } from './labelMatch.js'
import type { ChannelId } from '../signals/index.js'

/** What a label alone is surely taken for. */
const sure = (label: string): ChannelId | undefined => {
  const [first, second] = matchesOf(label)
  return first && first.score >= SURE_SCORE && (!second || first.score - second.score >= CLOSE_SCORE)
    ? first.channel
    : undefined
}

/** Names of each quantity: SAE J1930 and J1979, common abbreviations, and plain words of six languages. */
const NAMES: Readonly<Partial<Record<ChannelId, string>>> = {
  time_s:
    'Time; Elapsed time; Timestamp; Date/Time; Zeit; Uhrzeit; Temps; Heure; Tiempo; Hora; Tempo; Ora; Czas; Godzina',
  rpm:
    'RPM; RPM act; Engine RPM; Engine speed; ENG SPD; EngSpd; Engine rev/min; Nmot; Tachometer; Vueltas motor; Rotational speed; Engine Speed (RPM); ENGINE_SPEED; Drehzahl; Motordrehzahl; Régime moteur; Vitesse moteur; ' +
    'Revoluciones del motor; Régimen del motor; Giri motore; Regime motore; Obroty silnika; Prędkość obrotowa silnika',
  speed_kph:
    'Vehicle speed; Vehicle Speed Sensor; VSS; Road speed; Fahrzeuggeschwindigkeit; Geschwindigkeit; Vitesse véhicule; ' +
    'Vitesse du véhicule; Velocidad del vehículo; Velocità veicolo; Prędkość pojazdu',
  load_pct:
    'Engine load; Calculated load; Calculated Engine Load Value; CLV; Load; Motorlast; Berechnete Motorlast; Charge moteur; ' +
    'Charge calculée; Carga del motor; Carga calculada; Carico motore; Obciążenie silnika',
  ect_c:
    'ECT; Coolant; Coolant temp; Engine coolant temperature; CTS; Kühlmitteltemperatur; Kuehlmitteltemperatur; ' +
    'Température liquide de refroidissement; Temperatura del refrigerante; Temperatura liquido raffreddamento; ' +
    'Temperatura cieczy chłodzącej; Temperatura acqua motore',
  iat_c:
    'IAT; ACT; MAT; IAT sensor 1; Air charge temp; IntakeAirTemp; Intake air temperature; Intake Air Temp; Inlet air temperature; Ansauglufttemperatur; Température air admission; ' +
    'Temperatura del aire de admisión; Temperatura aria aspirata; Temperatura powietrza dolotowego',
  baro_kpa:
    'BARO; Barometric pressure; Atmospheric pressure; Absolute barometric pressure; Umgebungsdruck; Luftdruck; ' +
    'Pression atmosphérique; Presión barométrica; Pressione atmosferica; Ciśnienie barometryczne',
  map_kpa:
    'MAP; Manifold absolute pressure; Intake manifold pressure; Intake Manifold Abs Pressure; Saugrohrdruck; ' +
    'Pression collecteur admission; Presión absoluta del colector de admisión; Pressione collettore aspirazione; ' +
    'Ciśnienie w kolektorze dolotowym',
  maf_gs:
    'MAF; Mass air flow; Mass Air Flow Rate; MAF air flow rate; Air flow rate from mass air flow sensor; Airflow; Luftmasse; ' +
    "Luftmassenstrom; Débit d'air massique; Débit d'air; Flujo de aire; Caudal masa de aire; Portata aria; Massa aria; " +
    'Przepływ powietrza; Masowy przepływ powietrza',
  throttle_pct:
    'TP; TPS; TP1; DK-Winkel; Papillon des gaz; Throttle; Throttle position; Absolute Throttle Position; Throttle angle; Drosselklappe; Drosselklappenstellung; ' +
    'Drosselklappenwinkel; Position papillon; Posición de la mariposa; Posizione farfalla; Położenie przepustnicy',
  idle_valve_pct:
    'IAC; Idle air control; Idle air control valve; IAC duty cycle; IAC position; IAC steps; Idle Air Control Steps; ' +
    'Idle speed control; ISC duty; ISC valve opening; Idle control valve duty; IACV; Idle valve percent; By-pass air; Bypass valve; ' +
    'Idle air bypass; Stepper motor; LFR; Régulateur de ralenti; Regulator biegu jałowego; Silnik krokowy; Leerlaufsteller; Leerlaufregelventil; Vanne de ralenti; Válvula de ralentí; Valvola del minimo; ' +
    'Zawór biegu jałowego; Control de ralentí',
  stft1_pct:
    'STFT; STFT 1; STFT B1; SHRTFT1; Short term fuel trim; Short Term Fuel Trim Bank 1; Short term fuel trim—Bank 1; Short FT B1; ' +
    'Kurzzeit-Kraftstofftrimm Bank 1; Kraftstofftrimm kurz; Gemischanpassung kurzfristig Bank 1; Gemischadaption kurz; ' +
    'Kurzfristige Gemischkorrektur; FAF; A/F feedback; Correction carburant court terme banc 1; Ajuste de combustible a corto plazo banco 1; ' +
    'Correzione carburante a breve termine bancata 1; Krótkoterminowa korekta paliwa 1',
  ltft1_pct:
    'LTFT; LTFT 1; LTFT B1; LONGFT1; Long term fuel trim; Long Term Fuel Trim Bank 1; Langzeit-Kraftstofftrimm Bank 1; ' +
    'Gemischanpassung langfristig; Langfristige Gemischkorrektur; Gemischadaption; Learned fuel trim; Adaptation richesse; ' +
    'Correction carburant long terme banc 1; Ajuste de combustible a largo plazo banco 1; ' +
    'Correzione carburante a lungo termine bancata 1; Długoterminowa korekta paliwa 1',
  stft2_pct: 'STFT 2; STFT B2; SHRTFT2; Short Term Fuel Trim Bank 2; Correction carburant court terme banc 2',
  ltft2_pct: 'LTFT 2; LTFT B2; LONGFT2; Long Term Fuel Trim Bank 2; Langzeit-Kraftstofftrimm Bank 2',
  battery_v:
    'Battery; Battery voltage; Control module voltage; VPWR; System voltage; Batteriespannung; Bordnetzspannung; ' +
    'Tension batterie; Voltaje de la batería; Tensione batteria; Napięcie akumulatora',
  purge_pct:
    'Purge; Evap purge; Commanded evaporative purge; EVAP purge valve duty; Canister purge; EVAP_PCT; Tankentlüftung; Tankentlüftungsventil; ' +
    'Électrovanne canister; Valvola canister; Zawór pochłaniacza par',
  pedal_pct: 'APP; Accelerator pedal position; Accelerator Pedal Position D; Fahrpedal; Gaspedal; Pédale accélérateur',
  spark_deg: 'Spark advance; Timing advance; Ignition timing advance; Zündwinkel; Avance allumage; Anticipo accensione',
  charge_kpa: 'Boost; Boost pressure; Charge pressure; Ladedruck; Pressione sovralimentazione',
  egr_pct: 'EGR; Commanded EGR; EGR duty cycle; EGR valve position',
  gauge_vacuum_kpa: 'Vacuum; Manifold vacuum; Unterdruck',
  lambda1: 'Lambda ist; Wideband lambda; AFR; Air Fuel Ratio (Measured)(:1)',
  lambda_cmd: 'Commanded lambda; Lambda soll; Commanded equivalence ratio; Air Fuel Ratio (Commanded)(:1); AFR target',
}
const CASES = Object.entries(NAMES).flatMap(([channel, names]) =>
  names.split(';').map((n) => [n.trim(), channel] as const),
)

describe('names', () => {
  it.each(CASES)('%s is %s, in small and capital letters, with underscores', (label, channel) => {
    const styles = [
      label,
      label.toUpperCase(),
      label.toLowerCase().replace(/[ -]/g, '_'),
      `"${label}"`,
      `${label} (SAE)`,
    ]
    expect([...new Set(styles.map(sure))]).toEqual([channel])
  })
  it.each([
    'Desired idle speed',
    'Target RPM',
    'Turbine speed',
    'Fuel pressure',
    'Fuel rail pressure',
    'Throttle desired',
    'Idle learn status',
    'Engine oil temperature',
    'Ambient temperature',
    'Oil pressure',
    'Knock retard',
    'Injector pulse width',
    'O2 sensor 1 voltage',
    'Catalyst temperature bank 1',
    'Fuel level',
    'Engine run time',
    'Cooling fan speed',
    'MAF voltage',
    'Throttle voltage',
    'EGR error',
    'Brake booster vacuum',
    'Hybrid battery voltage',
    'Short term secondary O2 trim bank 1',
    'Intake valve timing',
    'Fuel system 2 status',
    'Torque',
    'Voltage regulator',
    'Fuel pressure regulator',
    'Learnt fuel pressure',
    'EGR stepper motor',
    'Canister vent valve',
    'Canister load',
    'Cruise control',
    'Ladedruckregler',
    'Température gaz échappement',
    'Learned idle position',
  ])('%s is taken for none of those that are judged', (label) =>
    expect([undefined, 'run_time_s', 'mark']).toContain(sure(label)),
  )
})

/** What a table of one strange column and a time gives. */
const columnsOf = (label: string, values: readonly (string | number)[], unitRow = ''): Record<string, number> => {
  const text = `Time (s),Engine RPM,${label}\n${unitRow}${values.map((v, i) => `${i},700,${v}`).join('\n')}\n`
  const r = readRecording(new TextEncoder().encode(text))
  if (!r.ok) throw new Error(r.error.message)
  return Object.fromEntries(Object.entries(r.recording.columns).map(([id, xs]) => [id, xs[0]]))
}

describe('units', () => {
  it.each([
    ['Speed (km/h)', 'speed_kph', 40, 40],
    ['Speed (mph)', 'speed_kph', 25, 40.2336],
    ['Velocidad [km/h]', 'speed_kph', 40, 40],
    ['Coolant temp, °F', 'ect_c', 212, 100],
    ['Kühlmitteltemperatur in [°C]', 'ect_c', 90, 90],
    ['Saugrohrdruck (mbar)', 'map_kpa', 330, 33],
    ['MAP / inHg', 'map_kpa', 10, 33.86389],
    ['Pression collecteur admission (hPa)', 'map_kpa', 330, 33],
    ['Intake manifold pressure (psi)', 'map_kpa', 5, 34.473785],
    ['Luftmasse (kg/h)', 'maf_gs', 9, 2.5],
    ['Air flow (lb/min)', 'maf_gs', 0.5, 3.779936],
    ['MAF (gm/s)', 'maf_gs', 2.5, 2.5],
    ['Battery (volts)', 'battery_v', 14.1, 14.1],
    ['Coolant Temp degF', 'ect_c', 212, 100],
    ['coolant_temp_F', 'ect_c', 212, 100],
    ['MAF g/s', 'maf_gs', 2.5, 2.5],
    ['maf_lb_min', 'maf_gs', 0.5, 3.779936],
    ['Throttle %', 'throttle_pct', 12, 12],
    ['$10 MAF (g/s)', 'maf_gs', 2.5, 2.5],
    ['0B Intake Manifold Absolute Pressure (kPa)', 'map_kpa', 33, 33],
    ['Ansaugluftmasse (kg/h)', 'maf_gs', 9, 2.5],
    ['Drosselklappenwinkel %', 'throttle_pct', 12, 12],
    ['Leerlaufregelventil Tastverhältnis (%)', 'idle_valve_pct', 30, 30],
    ['Lambdaregler Bank 1 (%)', 'stft1_pct', 2, 2],
    ['SHRTFT11 (%)', 'stft1_pct', 2, 2],
  ])('%s', (label, channel, written, canonical) =>
    expect(columnsOf(label, [written, written, written])[channel]).toBeCloseTo(canonical, 4),
  )
  it.each(['MAF (V)', 'Throttle position (V)', 'MAF (Hz)', 'Air mass (mg/stk)', 'Throttle (mV)'])(
    '%s is counted in what that channel is not: left aside',
    (label) => expect(Object.keys(columnsOf(label, [1, 2, 3])).sort()).toEqual(['rpm', 'time_s']),
  )
  it('steps of an idle valve are a share of a way that is not known, and it is said', () => {
    const read = (label: string, steps: number): [number, boolean] => {
      const r = readRecording(new TextEncoder().encode(`Time (s),RPM,${label}\n0,700,${steps}\n1,700,${steps}\n`))
      if (!r.ok) throw new Error(r.error.message)
      return [r.recording.columns.idle_valve_pct![0], r.recording.warnings.some((w) => /counts steps/.test(w.message))]
    }
    expect(read('IAC steps', 30)).toEqual([30, true])
    expect(read('Idle Air Control Steps', 127.5)).toEqual([50, true])
    expect(read('IAC steps (%)', 30)).toEqual([30, false])
    expect(read('IAC duty', 30)).toEqual([30, false])
  })
  it('a speed in rpm is the engine’s, and one without a unit is not guessed', () => {
    const read = (label: string): string[] => {
      const r = readRecording(new TextEncoder().encode(`Time (s),${label},MAF\n0,700,2.5\n1,700,2.5\n`))
      return r.ok ? Object.keys(r.recording.columns).sort() : []
    }
    expect(read('Speed (rpm)')).toEqual(['maf_gs', 'rpm', 'time_s'])
    expect(read('Vitesse (tr/min)')).toEqual(['maf_gs', 'rpm', 'time_s'])
    expect(read('Speed')).toEqual(['maf_gs', 'time_s'])
  })
})

describe('how a table may be laid out', () => {
  const read = (text: string, bytes = new TextEncoder().encode(text)): Record<string, number[]> => {
    const r = readRecording(bytes)
    if (!r.ok) throw new Error(r.error.message)
    return Object.fromEntries(Object.entries(r.recording.columns).map(([id, xs]) => [id, [...xs]]))
  }
  it('lines end in a carriage return alone', () =>
    expect(read('Time,RPM,MAF\r0,700,2.5\r1,701,2.6\r').rpm).toEqual([700, 701]))
  it('marks of byte order stand anywhere', () =>
    expect(read('\ufeff\ufeffTime,RPM,MAF\n0,700,2.5\n\ufeff1,701,2.6\n').time_s).toEqual([0, 1]))
  it('a clock column of any name, past midnight', () =>
    expect(read('Stempel;Drehzahl;Luftmasse\n23:59:59.5;700;2,5\n00:00:00.5;701;2,6\n').time_s).toEqual([0, 1]))
  it('a row of modules and one of units between names and figures', () =>
    expect(read('Time,Engine speed,Coolant\nlogger,ECM,ECM\ns,rpm,°F\n0,700,212\n1,701,212\n').ect_c![0]).toBeCloseTo(
      100,
      6,
    ))
  it('names that take two lines', () => {
    const r = read(
      'Elapsed,Engine,Mass Air,Short Term,Long Term\nTime,Speed,Flow,Fuel Trim,Fuel Trim\n0,700,2.5,1,2\n1,701,2.6,1,2\n',
    )
    expect(Object.keys(r).sort()).toEqual(['ltft1_pct', 'maf_gs', 'rpm', 'stft1_pct', 'time_s'])
  })
  it('columns that come half way: the rows before have none of them', () => {
    const r = read('Time,RPM,MAF\n0,700,2.5\n1,701,2.5\nTime,RPM,MAF,STFT1\n2,702,2.5,1\n3,703,2.5,2\n')
    expect(r.rpm).toEqual([700, 701, 702, 703])
    expect(r.stft1_pct).toEqual([NaN, NaN, 1, 2])
  })
  it('a unit behind a name without any mark, the time’s too', () =>
    expect(read('Time ms,Engine RPM rpm,MAF g/s\n0,700,2.5\n250,701,2.6\n').time_s).toEqual([0, 0.25]))
  it('two controllers answer with the same: the one that answers more often is read, and it is said', () => {
    const rows = Array.from({ length: 6 }, (_, i) => `${i},${i % 3 ? '' : 650},${700 + i},2.5`)
    const r = readRecording(new TextEncoder().encode(`Time,RPM,Engine RPM,MAF\n${rows.join('\n')}\n`))
    if (!r.ok) throw new Error(r.error.message)
    expect(r.recording.columns.rpm![1]).toBe(701)
    expect(r.recording.warnings.map((w) => w.code)).toContain('twice')
  })
})

it('answers as a terminal shows them, each behind its time, past midnight', () => {
  const lines = Array.from({ length: 40 }, (_, i) => {
    const t = 86_390 + i * 0.5
    const clock = new Date(1000 * t).toISOString().slice(11, 23)
    const hex = ['41 0C 0A F0', '41 10 01 36', '41 06 82', '41 07 84'][i % 4]
    return `${clock} ${hex}${i % 2 ? ' >' : ''}`
  })
  const r = readRecording(new TextEncoder().encode(['ATH0', 'OK', ...lines].join('\r\n')))
  if (!r.ok) throw new Error(r.error.message)
  const { time_s, rpm, maf_gs, stft1_pct, ltft1_pct } = r.recording.columns
  expect([rpm![0], maf_gs![0], stft1_pct![0], ltft1_pct![0]]).toEqual([700, 3.1, expect.closeTo(1.5625), 3.125])
  expect(time_s!.at(-1)).toBeGreaterThan(15)
  expect(time_s!.at(-1)).toBeLessThan(21)
})
