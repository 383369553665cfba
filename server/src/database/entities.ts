import { ItemEntity } from '../items/item.entity.js'
import { CountEntity } from '../counts/count.entity.js'
import { TickEntity } from '../ticks/tick.entity.js'
import { TimerEntity } from '../timers/timer.entity.js'
import { BalanceEntity } from '../balances/balance.entity.js'
import { CodeEntity } from '../codes/code.entity.js'
import { FillEntity } from '../fills/fill.entity.js'
import { ProcedureEntity } from '../procedures/procedure.entity.js'
import { QuoteEntity } from '../quotes/quote.entity.js'
import { StepEntity } from '../steps/step.entity.js'
import { RunEntity } from '../runs/run.entity.js'
import { FindingEntity } from '../findings/finding.entity.js'
import { PhotoEntity } from '../photos/photo.entity.js'
import { ReadingEntity } from '../readings/reading.entity.js'
import { RecordingEntity } from '../recordings/recording.entity.js'
import { BlobEntity, HistoryEntity, WriteEntity } from '../records/history.entity.js'
import { RepairEntity } from '../repairs/repair.entity.js'
import { ReportEntity } from '../reports/report.entity.js'
import { OutcomeEntity } from '../shop/outcome.entity.js'
import { ShopEntity } from '../shop/shop.entity.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'

/** Lists of a visit: which entity keeps which noun. */
export const LISTS = {
  readings: ReadingEntity,
  findings: FindingEntity,
  repairs: RepairEntity,
  recordings: RecordingEntity,
  photos: PhotoEntity,
  reports: ReportEntity,
  items: ItemEntity,
  counts: CountEntity,
  ticks: TickEntity,
  timers: TimerEntity,
  codes: CodeEntity,
  balances: BalanceEntity,
  steps: StepEntity,
  runs: RunEntity,
  quotes: QuoteEntity,
} as const

export const ENTITIES = [
  VehicleEntity,
  VisitEntity,
  ...Object.values(LISTS),
  HistoryEntity,
  WriteEntity,
  BlobEntity,
  ShopEntity,
  OutcomeEntity,
  ProcedureEntity,
  FillEntity,
]
