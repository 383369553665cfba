import type { WriteFields, WriteNoun } from '@uvula/core'
import type { BalanceDto } from '../balances/balance.dto.js'
import type { CodeDto } from '../codes/code.dto.js'
import type { CountDto } from '../counts/count.dto.js'
import type { FillDto } from '../fills/fill.dto.js'
import type { FindingDto } from '../findings/finding.dto.js'
import type { ItemDto } from '../items/item.dto.js'
import type { PhotoDto } from '../photos/photo.dto.js'
import type { ProcedureDto } from '../procedures/procedure.dto.js'
import type { QuoteDto } from '../quotes/quote.dto.js'
import type { ReadingDto } from '../readings/reading.dto.js'
import type { RecordingDto } from '../recordings/recording.dto.js'
import type { RepairDto } from '../repairs/repair.dto.js'
import type { ReportDto } from '../reports/report.dto.js'
import type { RunDto } from '../runs/run.dto.js'
import type { StepDto } from '../steps/step.dto.js'
import type { TickDto } from '../ticks/tick.dto.js'
import type { TimerDto } from '../timers/timer.dto.js'
import type { VehicleDto } from '../vehicles/vehicle.dto.js'
import type { VisitDto } from '../visits/visit.dto.js'
import type { WriteDto } from './fields.js'

interface Dtos {
  balances: BalanceDto
  codes: CodeDto
  counts: CountDto
  fills: FillDto
  findings: FindingDto
  items: ItemDto
  photos: PhotoDto
  procedures: ProcedureDto
  quotes: QuoteDto
  readings: ReadingDto
  recordings: RecordingDto
  repairs: RepairDto
  reports: ReportDto
  runs: RunDto
  steps: StepDto
  ticks: TickDto
  timers: TimerDto
  vehicles: VehicleDto
  visits: VisitDto
}

/** Fields that only one side knows: a screen would write them for nothing, or could never write them. */
type OneSided<N extends WriteNoun> =
  Exclude<keyof WriteFields<N>, keyof Dtos[N]> | Exclude<keyof Dtos[N], keyof WriteFields<N> | keyof WriteDto>

/**
 * The server takes the fields that a record is written with (core's WriteFields), no more and no fewer: this list does not
 * compile otherwise, and the type at a noun names the fields that are at odds.
 */
export const OBEYED: { readonly [N in WriteNoun]: [OneSided<N>] extends [never] ? true : OneSided<N> } = {
  balances: true,
  codes: true,
  counts: true,
  fills: true,
  findings: true,
  items: true,
  photos: true,
  procedures: true,
  quotes: true,
  readings: true,
  recordings: true,
  repairs: true,
  reports: true,
  runs: true,
  steps: true,
  ticks: true,
  timers: true,
  vehicles: true,
  visits: true,
}
