import { Text, WriteDto } from '../records/fields.js'

export class TickDto extends WriteDto {
  @Text(100) visitId: string
  @Text(80) caution: string
}
