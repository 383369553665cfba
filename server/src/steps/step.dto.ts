import {
  METHODS,
  PRODUCTS,
  STATIONS,
  stepMoreProblem,
  SURFACES,
  type MethodId,
  type ProductId,
  type StationId,
  type StepMore,
  type SurfaceId,
} from '@uvula/core'
import { Choice, Flag, Judged, Text, Whole, WriteDto } from '../records/fields.js'

export class StepDto extends WriteDto {
  @Text(100) visitId: string
  @Choice(STATIONS.map((s) => s.id)) station: StationId
  @Choice(SURFACES.map((s) => s.id)) surface: SurfaceId
  @Choice(PRODUCTS.map((p) => p.id)) product: ProductId
  @Choice(METHODS.map((m) => m.id)) method: MethodId
  @Flag() passed: boolean
  @Whole(0, 50, { optional: true }) afterRound?: number | null
  @Judged('more', stepMoreProblem, { optional: true }) more?: StepMore | null
}
