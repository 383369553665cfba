import { FindingEntity } from '../findings/finding.entity.js'
import { PhotoEntity } from '../photos/photo.entity.js'
import { ReadingEntity } from '../readings/reading.entity.js'
import { RecordingEntity } from '../recordings/recording.entity.js'
import { BlobEntity, HistoryEntity, WriteEntity } from '../records/history.entity.js'
import { RepairEntity } from '../repairs/repair.entity.js'
import { ReportEntity } from '../reports/report.entity.js'
import { ShopEntity } from '../shop/shop.entity.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'

export const ENTITIES = [
  VehicleEntity,
  VisitEntity,
  ReadingEntity,
  FindingEntity,
  RepairEntity,
  RecordingEntity,
  PhotoEntity,
  ReportEntity,
  HistoryEntity,
  WriteEntity,
  BlobEntity,
  ShopEntity,
]
