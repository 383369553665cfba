import { REPAIR_KINDS, type RepairKind, type StationId, STATIONS } from '@uvula/core'
import { Choice, Day, Flag, Num, Text, TextList, Whole, WriteDto } from '../records/fields.js'

export class RepairDto extends WriteDto {
  @Text(100) visitId: string
  @Choice(STATIONS.map((s) => s.id)) station: StationId
  @Choice(REPAIR_KINDS) kind: RepairKind
  @Choice(['planned', 'done']) state: 'planned' | 'done'
  @Whole(0, 50) afterRound: number
  @Flag() temporary: boolean
  @Day({ optional: true }) recheckOn?: string
  @Num(0, 10_000) minutes: number
  @Num(0, 1_000_000) partsPrice: number
  @TextList(40) conditions: string[]
  @Text(1000, { optional: true }) note?: string
  @Text(100, { optional: true }) finding?: string
}
