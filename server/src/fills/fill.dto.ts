import { Day, Flag, Num, Text, WriteDto } from '../records/fields.js'

export class FillDto extends WriteDto {
  @Text(100) vehicleId: string
  @Day() on: string
  @Num(0, 3_000_000) odometerKm: number
  @Num(0.01, 400) litres: number
  @Flag() full: boolean
}
