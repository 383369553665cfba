import { Text, WriteDto } from '../records/fields.js'

export class ReportDto extends WriteDto {
  @Text(100) visitId: string
}
