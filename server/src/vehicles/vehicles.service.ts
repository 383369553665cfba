import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, In } from 'typeorm'
import {
  calendarOf,
  checkVehicle,
  csvCell,
  historyRow,
  nextLook,
  stationInfo,
  live,
  spreadsLeft,
  type Due,
  type FillRecord,
  type VehicleRecord,
  type StationId,
  type VisitRecord,
  type Sheet,
} from '@uvula/core'
import type { FindResult, VehicleCard } from '@uvula/contract'
import { ProblemException, notFound } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { toRecord } from '../records/record.entity.js'
import { VisitFiles } from '../records/visit-files.js'
import { FillEntity } from '../fills/fill.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { Search } from './search.js'
import type { VehicleDto } from './vehicle.dto.js'
import { VehicleEntity } from './vehicle.entity.js'

/** Visits that a table reads at once. */
const TABLE_PIECE = 500

@Injectable()
export class VehiclesService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
    private readonly search: Search,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  write(id: string, key: string | undefined, dto: VehicleDto): Promise<VehicleRecord> {
    const checked = checkVehicle(dto.spec)
    if (!checked.ok)
      throw new ProblemException({
        type: 'uvula:vehicle',
        title: 'Vehicle not complete',
        status: 400,
        detail: checked.problems.map((p) => `${p.field}: accepted is ${p.accepted}`).join('; '),
        field: `spec.${checked.problems[0].field}`,
        problems: checked.problems,
      })
    return this.writer.write({
      noun: 'vehicles',
      entity: VehicleEntity,
      id,
      key,
      dto,
      fields: async () => ({
        plate: dto.plate.trim().toUpperCase(),
        customer: dto.customer,
        vin: dto.vin ?? null,
        spec: checked.value,
      }),
    })
  }

  async card(id: string): Promise<VehicleCard> {
    const vehicle = await this.source.manager.findOneBy(VehicleEntity, { id })
    if (!vehicle) throw notFound('This vehicle')
    const visits = await this.source.manager.find(VisitEntity, {
      where: { vehicleId: id },
      order: { openedAt: 'DESC' },
    })
    const files = await this.files.many(visits.map((v) => v.id))
    const done = files.flatMap((f) => live(f.repairs).filter((r) => r.state === 'done'))
    const temporary = done
      .filter((r) => r.temporary)
      // what was mended for good since is due no more
      .filter((r) => !done.some((x) => !x.temporary && x.station === r.station && x.kind !== 'leave' && x.at > r.at))
      .map((r) => ({ visitId: r.visitId, station: r.station, kind: r.kind, recheckOn: r.recheckOn }))
    const sheets = files
      .flatMap((f) => f.reports.map((r) => ({ f, issuedAt: r.issuedAt, sheet: r.sheet as Sheet })))
      .sort((a, b) => b.issuedAt.localeCompare(a.issuedAt))
    const newest = sheets.at(0)
    const left = newest && {
      visitId: newest.f.visit.id,
      openedAt: newest.f.visit.openedAt,
      lines: [...newest.sheet.left, ...newest.sheet.advised],
    }
    const history = files.map(historyRow).sort((a, b) => a.openedAt.localeCompare(b.openedAt))
    const fills = await this.source.manager.findBy(FillEntity, { vehicleId: id, deleted: false })
    return {
      history,
      nextLook: nextLook(history, vehicle.spec),
      fills: fills.map((x) => toRecord<FillRecord>(x)),
      vehicle: toRecord(vehicle),
      visits: visits.map((v) => toRecord<VisitRecord>(v)),
      temporary,
      left: left ?? null,
      balances: files.flatMap((f) =>
        spreadsLeft(f.balances).map((s) => ({ visitId: f.visit.id, openedAt: f.visit.openedAt, ...s })),
      ),
    }
  }

  /** What is due on this car, as iCalendar: temporary repairs to be looked at again, and its next look. */
  async calendar(id: string): Promise<string> {
    const { vehicle, temporary, nextLook: next } = await this.card(id)
    const car = `${vehicle.spec.name}, ${vehicle.plate}`
    const dues: Due[] = temporary.flatMap((t) =>
      t.recheckOn
        ? [
            {
              id: `${t.visitId}-${t.station}`,
              on: t.recheckOn,
              summary: `${car}: ${stationInfo(t.station as StationId).label}, mended for now only`,
            },
          ]
        : [],
    )
    if (next.dueOn) dues.push({ id: `${id}-next`, on: next.dueOn, summary: `${car}: next look`, description: next.say })
    return calendarOf(dues, new Date().toISOString())
  }

  /** Every visit of the shop as a table, newest first; read in pieces, so that a large shop does not hold up others. */
  async table(): Promise<string> {
    const rows = ['opened,state,plate,vehicle,customer,odometer_km,complaint,intent,altitude_m']
    for (let skip = 0; ; skip += TABLE_PIECE) {
      const visits = await this.source.manager.find(VisitEntity, {
        where: { deleted: false },
        order: { openedAt: 'DESC' },
        skip,
        take: TABLE_PIECE,
      })
      const ids = [...new Set(visits.map((v) => v.vehicleId))]
      const cars = ids.length ? await this.source.manager.findBy(VehicleEntity, { id: In(ids) }) : []
      const byId = new Map(cars.map((c) => [c.id, c]))
      for (const v of visits) {
        const c = byId.get(v.vehicleId)
        const { openedAt, state, odometerKm, complaint, intent, altitudeM } = v
        const cells = [openedAt, state, c?.plate, c?.spec.name, c?.customer, odometerKm ?? undefined]
        rows.push([...cells, complaint, intent, altitudeM].map(csvCell).join(','))
      }
      if (visits.length < TABLE_PIECE) return `${rows.join('\r\n')}\r\n`
    }
  }

  /** Vehicles by plate, name, customer or code, with their newest visits. */
  async find(query: string): Promise<FindResult> {
    const m = this.source.manager
    const ids = await this.search.cars(query)
    const cars = ids.length ? await m.findBy(VehicleEntity, { id: In([...ids]), deleted: false }) : []
    const vehicles = ids.flatMap((id) => cars.filter((c) => c.id === id))
    const visits = vehicles.length
      ? await m
          .createQueryBuilder(VisitEntity, 'x')
          .select(['x.id', 'x.vehicleId', 'x.openedAt', 'x.state'])
          .where('x.vehicleId IN (:...ids)', { ids: vehicles.map((v) => v.id) })
          .orderBy('x.openedAt', 'DESC')
          .take(50)
          .getMany()
      : []
    return {
      vehicles: vehicles.map((v) => toRecord<VehicleRecord>(v)),
      visits: visits.map((x) => {
        const v = vehicles.find((y) => y.id === x.vehicleId)!
        return {
          visitId: x.id,
          vehicleId: v.id,
          plate: v.plate,
          name: v.spec.name,
          openedAt: x.openedAt,
          state: x.state,
        }
      }),
    }
  }
}
