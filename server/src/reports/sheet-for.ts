import { diagnoseVisit, lastRound, sheetOf, type Sheet, type VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'

/** The sheet of a visit as it stands, at the shop's prices. */
export const sheetFor = (file: VisitFile, { labourPerHour, taxPct }: Pick<Shop, 'labourPerHour' | 'taxPct'>): Sheet =>
  sheetOf(file, diagnoseVisit(file, 0), labourPerHour, diagnoseVisit(file, lastRound(file)), taxPct)
