import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { isAlike, type SoundRecord, type Vehicle } from '@uvula/core'
import { DataSource, Not } from 'typeorm'
import { VisitFiles } from '../records/visit-files.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { Weigher } from '../threads/weigher.js'
import { VehicleEntity } from './vehicle.entity.js'

/** Visits of this car among which its own sound record is looked for. */
const OWN_MOST = 10
/** Cars of the model that are asked, those written last first; and the newest visits looked at of each. */
const ALIKE_ASKED = 12
const ALIKE_VISITS = 3
/** Sound records of the model beyond which another tells nothing new. */
const ALIKE_MOST = 6
/** Weighings that are remembered. */
const REMEMBERED = 500

/** Sound records that the shop's own visits hold for a car: its own, and those of cars of its model. */
@Injectable()
export class SoundRecords {
  /** What the visits of another car gave, by their ids and versions. */
  private readonly known = new Map<string, Promise<SoundRecord | null>>()

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly files: VisitFiles,
    private readonly weigher: Weigher,
  ) {}

  /** Newest first, this car's own ahead of the others. @param except - the visit at hand */
  async of(id: string, except: string): Promise<readonly SoundRecord[]> {
    const [mine, alike] = await Promise.all([this.own(id, except), this.ofModel(id)])
    return mine ? [mine, ...alike] : alike
  }

  private async own(id: string, except: string): Promise<SoundRecord | null> {
    const visits = await this.source.manager.find(VisitEntity, {
      where: { vehicleId: id, id: Not(except) },
      order: { openedAt: 'DESC' },
      take: OWN_MOST,
    })
    return this.weigher.sound(await this.files.many(visits.map((v) => v.id)), 'same-car')
  }

  private async ofModel(id: string): Promise<SoundRecord[]> {
    const car = await this.source.manager.findOneBy(VehicleEntity, { id })
    return car ? this.alike(car) : []
  }

  private async alike(car: VehicleEntity): Promise<SoundRecord[]> {
    const found: SoundRecord[] = []
    for (const other of await this.kin(car)) {
      const visits = await this.source.manager.find(VisitEntity, {
        where: { vehicleId: other, state: 'handed-over', deleted: false },
        order: { openedAt: 'DESC' },
        take: ALIKE_VISITS,
        select: { id: true, version: true },
      })
      const record = visits.length ? await this.remembered(visits) : null
      if (record) found.push(record)
      if (found.length === ALIKE_MOST) break
    }
    return found.sort((a, b) => b.at.localeCompare(a.at))
  }

  /** Other cars of the model. */
  private async kin(car: VehicleEntity): Promise<string[]> {
    const onPostgres = this.source.options.type === 'postgres'
    const same = (field: keyof Vehicle): string =>
      `${onPostgres ? `CAST(CAST(v.spec AS jsonb) ->> '${field}' AS double precision)` : `json_extract(v.spec, '$.${field}')`} = :${field}`
    const { displacementL, cylinders, throttleBoreMm } = car.spec
    const others = await this.source.manager
      .createQueryBuilder(VehicleEntity, 'v')
      .where('v.id != :id AND NOT v.deleted', { id: car.id })
      .andWhere([same('displacementL'), same('cylinders'), same('throttleBoreMm')].join(' AND '), {
        displacementL,
        cylinders,
        throttleBoreMm,
      })
      .orderBy('v.at', 'DESC')
      .getMany()
    return others
      .filter((v) => isAlike(v.spec, car.spec))
      .slice(0, ALIKE_ASKED)
      .map((v) => v.id)
  }

  private remembered(visits: readonly Pick<VisitEntity, 'id' | 'version'>[]): Promise<SoundRecord | null> {
    const key = visits.map((v) => `${v.id} ${v.version}`).join()
    const known = this.known.get(key)
    if (known) return known
    const record = this.files.many(visits.map((v) => v.id)).then((files) => this.weigher.sound(files, 'same-model'))
    // what could not be weighed is tried again when it is asked for again
    record.catch(() => this.known.delete(key))
    this.known.set(key, record)
    if (this.known.size > REMEMBERED) this.known.delete(this.known.keys().next().value!)
    return record
  }
}
