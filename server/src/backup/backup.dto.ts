import { BackupForm } from '@uvula/contract'
import { describeForm, Text } from '../records/fields.js'

export class BackupDto extends BackupForm {}

describeForm(BackupDto, ['keep'], ['folder'])

export class RestoreDto {
  @Text(200) name: string
}
