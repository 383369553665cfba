import { Injectable } from '@nestjs/common'
import { fillProblem, type FillRecord } from '@uvula/core'
import { Not } from 'typeorm'
import { badField, notFound } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import type { FillDto } from './fill.dto.js'
import { FillEntity } from './fill.entity.js'

@Injectable()
export class FillsService {
  constructor(private readonly writer: RecordWriter) {}

  /** @throws ProblemException on a car that is not there, or a fill that cannot be among its others */
  write(id: string, key: string | undefined, dto: FillDto): Promise<FillRecord> {
    const { vehicleId, on, odometerKm, litres, full } = dto
    const own = { vehicleId, on, odometerKm, litres, full }
    return this.writer.write({
      noun: 'fills',
      entity: FillEntity,
      id,
      key,
      dto,
      fields: async (manager) => {
        if (!(await manager.existsBy(VehicleEntity, { id: vehicleId }))) throw notFound('This vehicle')
        const others = await manager.findBy(FillEntity, { vehicleId, deleted: false, id: Not(id) })
        const wrong = dto.deleted ? undefined : fillProblem(own, others)
        if (wrong) throw badField('odometerKm', odometerKm, wrong)
        return own
      },
    })
  }
}
