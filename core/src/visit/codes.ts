/** A code that our own work may set: number, meaning in our words, and which work. */
export interface ExpectedCode {
  readonly code: string
  readonly label: string
  readonly from: 'sensor-unplugged' | 'throttle-cleaned' | 'fed' | 'battery-off'
}

export const EXPECTED_CODES: readonly ExpectedCode[] = [
  { code: 'P0102', label: 'airflow signal too low: the sensor was unplugged', from: 'sensor-unplugged' },
  { code: 'P0113', label: 'intake temperature open: the sensor was unplugged', from: 'sensor-unplugged' },
  { code: 'P0507', label: 'idle above command: more air passes than was learnt', from: 'throttle-cleaned' },
  { code: 'P0172', label: 'mixture rich, bank 1: cleaner is fuel', from: 'fed' },
  { code: 'P0175', label: 'mixture rich, bank 2: cleaner is fuel', from: 'fed' },
  { code: 'P0300', label: 'misfire of changing cylinders: while liquid was fed', from: 'fed' },
  { code: 'P0562', label: 'supply low: the battery was off', from: 'battery-off' },
]

/** What clearing wipes; said before it is done. */
export const CLEARING_WIPES =
  'Clearing wipes freeze-frame, readiness and learnt trims. An inspection then needs completed drive cycles. Permanent codes stay until their monitor has passed.'

/** The expected code of a number, or undefined: then it is a finding. */
export const expectedCode = (code: string): ExpectedCode | undefined =>
  EXPECTED_CODES.find((c) => c.code === code.toUpperCase())
