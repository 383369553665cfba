import { ownProcedureProblem, type OwnProcedure } from '@uvula/core'
import { Judged, WriteDto } from '../records/fields.js'

export class ProcedureDto extends WriteDto {
  @Judged('value', ownProcedureProblem) value: OwnProcedure
}
