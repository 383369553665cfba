import { STATIONS, type StationId } from '@uvula/core'
import { Choice, Text, Whole, WriteDto } from '../records/fields.js'

export class CountDto extends WriteDto {
  @Text(100) visitId: string
  @Text(60) thing: string
  @Choice(STATIONS.map((s) => s.id)) station: StationId
  @Whole(0, 99) putIn: number
  @Whole(0, 99) takenOut: number
}
