import { asFoundProblem, SIGNS, type Intent, type VisitRecord } from '@uvula/core'
import { PlaceForm } from '@uvula/contract'
import { IntersectionType } from '@nestjs/swagger'
import { IsIn } from 'class-validator'
import { Choice, describeForm, FreeText, Judged, Moment, Text, TextList, WriteDto } from '../records/fields.js'

export class VisitDto extends IntersectionType(WriteDto, PlaceForm) {
  @Text(100) vehicleId: string
  @Moment() openedAt: string
  @Choice(['open', 'handed-over']) state: 'open' | 'handed-over'
  @Choice(['complaint', 'check-up', 'not-stated']) intent: Intent
  @FreeText(2000) complaint: string
  @TextList(40) @IsIn(SIGNS.map((s) => s.id), { each: true }) signs: string[]
  @TextList(40) conditions: string[]
  @Judged('asFound', asFoundProblem, { optional: true }) asFound?: VisitRecord['asFound']
}

describeForm(VisitDto, ['altitudeM', 'ambientC', 'baroKpa', 'odometerKm'])
