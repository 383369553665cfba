import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, In, type EntityManager, type EntityTarget } from 'typeorm'
import { VISIT_NOUNS, type VisitFile, type VisitNoun } from '@uvula/core'
import { LISTS } from '../database/entities.js'
import { RecordingEntity } from '../recordings/recording.entity.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { Changes } from './changes.js'
import { HeldVisits } from './held-visits.js'
import { notFound, sendFirst } from './problem.js'
import { toRecord } from './record.entity.js'

interface Row {
  readonly visitId: string
  readonly at: string
}

/** Reads whole visits; those read last are held, and of one that was written to only what was written is read again. */
@Injectable()
export class VisitFiles {
  private readonly held = new HeldVisits()

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    changes: Changes,
  ) {
    changes.onChange((c) => this.held.written(c))
  }

  /** Stands for this moment: the same again as long as nothing was written. */
  mark(): number {
    return this.held.mark()
  }

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

  /** Several visits in the order asked for; unknown ids are left out. What a transaction has written it sees itself. */
  async many(ids: readonly string[], manager: EntityManager = this.source.manager): Promise<VisitFile[]> {
    if (manager !== this.source.manager) return this.read(ids, manager)
    const stands = this.held.mark()
    const here = new Map<string, VisitFile>()
    const missing: string[] = []
    for (const id of ids) {
      const known = this.held.get(id)
      if (!known) missing.push(id)
      else if (!known.changed) here.set(id, known.file)
      else for (const file of await this.read([id], manager, [...known.changed], known.file)) here.set(id, file)
    }
    if (missing.length) for (const file of await this.read(missing, manager)) here.set(file.visit.id, file)
    this.held.hold([...here.values()], stands)
    return ids.flatMap((id) => here.get(id) ?? [])
  }

  /** @param nouns - lists to read @param upon - what holds the others */
  private async read(
    ids: readonly string[],
    manager: EntityManager,
    nouns: readonly VisitNoun[] = VISIT_NOUNS,
    upon?: VisitFile,
  ): Promise<VisitFile[]> {
    const visits = await manager.findBy(VisitEntity, { id: In([...ids]) })
    const where = { visitId: In(visits.map((v) => v.id)) }
    const vehicles = await manager.findBy(VehicleEntity, { id: In(visits.map((v) => v.vehicleId)) })
    const rows = (noun: VisitNoun): Promise<readonly Row[]> =>
      noun === 'recordings'
        ? manager.find(RecordingEntity, { where, select: RecordingEntity.summary })
        : manager.findBy<Row>(LISTS[noun] as EntityTarget<Row>, where)
    const lists = new Map<VisitNoun, readonly Row[]>()
    // a database beyond a network is asked for all of them at once; a transaction has one line to it
    if (manager === this.source.manager)
      await Promise.all(nouns.map(async (noun) => void lists.set(noun, await rows(noun))))
    else for (const noun of nouns) lists.set(noun, await rows(noun))
    const of = (noun: VisitNoun, visitId: string): readonly unknown[] =>
      lists
        .get(noun)
        ?.filter((x) => x.visitId === visitId)
        .sort((a, b) => a.at.localeCompare(b.at))
        .map((x) => toRecord(x)) ?? upon![noun]
    return ids.flatMap((id) => {
      const visit = visits.find((v) => v.id === id)
      const vehicle = vehicles.find((v) => v.id === visit?.vehicleId)
      if (!visit || !vehicle) return []
      const records = Object.fromEntries(VISIT_NOUNS.map((noun) => [noun, of(noun, id)]))
      return [
        {
          format: 'uvula-visit',
          formatVersion: 1,
          vehicle: toRecord<VisitFile['vehicle']>(vehicle),
          visit: toRecord<VisitFile['visit']>(visit),
          ...records,
        } as unknown as VisitFile,
      ]
    })
  }
}
