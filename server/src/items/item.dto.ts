import {
  ARRIVALS,
  itemMoreProblem,
  MOST_PIECES,
  STATIONS,
  type ItemMore,
  type ItemRecord,
  type StationId,
} from '@uvula/core'
import { Choice, Judged, Text, Whole, WriteDto } from '../records/fields.js'

export class ItemDto extends WriteDto {
  @Text(100) visitId: string
  @Choice(STATIONS.map((s) => s.id)) station: StationId
  @Text(80) name: string
  @Whole(1, MOST_PIECES) count: number
  @Text(40, { optional: true }) drive?: string
  @Text(20, { optional: true }) bag?: string
  @Text(200, { optional: true }) way?: string
  @Choice(ARRIVALS) arrival: ItemRecord['arrival']
  @Choice(['on', 'off', 'loose']) state: ItemRecord['state']
  @Text(80, { optional: true }) until?: string
  @Judged('more', itemMoreProblem, { optional: true }) more?: ItemMore | null
}
