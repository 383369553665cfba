import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, In, type EntityManager } from 'typeorm'
import type { VisitFile } from '@uvula/core'
import { FindingEntity } from '../findings/finding.entity.js'
import { PhotoEntity } from '../photos/photo.entity.js'
import { ReadingEntity } from '../readings/reading.entity.js'
import { RecordingEntity } from '../recordings/recording.entity.js'
import { RepairEntity } from '../repairs/repair.entity.js'
import { ReportEntity } from '../reports/report.entity.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { notFound } from './problem.js'
import { toRecord } from './record.entity.js'

/** Reads whole visits. */
@Injectable()
export class VisitFiles {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** @throws ProblemException when the visit is not here */
  async get(id: string, manager: EntityManager = this.source.manager): Promise<VisitFile> {
    const [file] = await this.many([id], manager)
    if (!file) throw notFound('This visit')
    return file
  }

  /** Several visits in the order asked for; unknown ids are left out. */
  async many(ids: readonly string[], manager: EntityManager = this.source.manager): Promise<VisitFile[]> {
    const visits = await manager.findBy(VisitEntity, { id: In([...ids]) })
    const where = { visitId: In(visits.map((v) => v.id)) }
    const vehicles = await manager.findBy(VehicleEntity, { id: In(visits.map((v) => v.vehicleId)) })
    const lists = {
      readings: await manager.findBy(ReadingEntity, where),
      findings: await manager.findBy(FindingEntity, where),
      repairs: await manager.findBy(RepairEntity, where),
      recordings: await manager.find(RecordingEntity, { where, select: RecordingEntity.summary }),
      photos: await manager.findBy(PhotoEntity, where),
      reports: await manager.findBy(ReportEntity, where),
    }
    const of = (list: readonly { visitId: string; at: string }[], visitId: string): never[] =>
      list
        .filter((x) => x.visitId === visitId)
        .sort((a, b) => a.at.localeCompare(b.at))
        .map((x) => toRecord(x))
    return ids.flatMap((id) => {
      const visit = visits.find((v) => v.id === id)
      const vehicle = vehicles.find((v) => v.id === visit?.vehicleId)
      if (!visit || !vehicle) return []
      return [
        {
          format: 'uvula-visit' as const,
          formatVersion: 1 as const,
          vehicle: toRecord<VisitFile['vehicle']>(vehicle),
          visit: toRecord<VisitFile['visit']>(visit),
          readings: of(lists.readings, id),
          findings: of(lists.findings, id),
          repairs: of(lists.repairs, id),
          recordings: of(lists.recordings, id),
          photos: of(lists.photos, id),
          reports: of(lists.reports, id),
        },
      ]
    })
  }
}
