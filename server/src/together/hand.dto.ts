import { Text } from '../records/fields.js'

/** Who a page belongs to, and where it is. */
export class HandDto {
  @Text(60) device: string
  @Text(60) by: string
  @Text(40) stage: string
}
