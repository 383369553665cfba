import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, In, type EntityManager, type EntityTarget } from 'typeorm'
import { VISIT_NOUNS, type VisitFile, type VisitNoun } from '@uvula/core'
import { LISTS } from '../database/entities.js'
import { RecordingEntity } from '../recordings/recording.entity.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { notFound, sendFirst } from './problem.js'
import { toRecord } from './record.entity.js'

interface Row {
  readonly visitId: string
  readonly at: string
}

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

  /** The visit that a write belongs to. @throws ProblemException when it must be sent first */
  async ofWrite(id: string, manager: EntityManager): Promise<VisitFile> {
    const [file] = await this.many([id], manager)
    if (!file) throw sendFirst()
    return file
  }

  /** Whether anything was done in a visit that may have closed a round; told without reading the visit. */
  async hasWork(id: string, manager: EntityManager): Promise<boolean> {
    for (const noun of ['repairs', 'steps', 'runs'] as const)
      if (await manager.existsBy(LISTS[noun] as EntityTarget<Row>, { visitId: id })) return true
    return false
  }

  /** Several visits in the order asked for; unknown ids are left out. */
  async many(ids: readonly string[], manager: EntityManager = this.source.manager): Promise<VisitFile[]> {
    const visits = await manager.findBy(VisitEntity, { id: In([...ids]) })
    const where = { visitId: In(visits.map((v) => v.id)) }
    const vehicles = await manager.findBy(VehicleEntity, { id: In(visits.map((v) => v.vehicleId)) })
    const lists = new Map<VisitNoun, readonly Row[]>()
    for (const noun of VISIT_NOUNS)
      lists.set(
        noun,
        noun === 'recordings'
          ? await manager.find(RecordingEntity, { where, select: RecordingEntity.summary })
          : await manager.findBy<Row>(LISTS[noun] as EntityTarget<Row>, where),
      )
    const of = (noun: VisitNoun, visitId: string): never[] =>
      lists
        .get(noun)!
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
          readings: of('readings', id),
          findings: of('findings', id),
          repairs: of('repairs', id),
          recordings: of('recordings', id),
          photos: of('photos', id),
          reports: of('reports', id),
          items: of('items', id),
          counts: of('counts', id),
          steps: of('steps', id),
          ticks: of('ticks', id),
          runs: of('runs', id),
          timers: of('timers', id),
          codes: of('codes', id),
          balances: of('balances', id),
          quotes: of('quotes', id),
        },
      ]
    })
  }
}
