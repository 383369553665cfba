import { Injectable } from '@nestjs/common'
import type { VisitRecord } from '@uvula/core'
import { badField } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import type { VisitDto } from './visit.dto.js'
import { VisitEntity } from './visit.entity.js'

@Injectable()
export class VisitsService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: VisitDto): Promise<VisitRecord> {
    return this.writer.write({
      noun: 'visits',
      entity: VisitEntity,
      id,
      key,
      dto,
      fields: async (manager) => {
        if (!(await manager.existsBy(VehicleEntity, { id: dto.vehicleId })))
          throw badField('vehicleId', dto.vehicleId, 'a vehicle that is stored already')
        return {
          vehicleId: dto.vehicleId,
          openedAt: dto.openedAt,
          state: dto.state,
          intent: dto.intent,
          complaint: dto.complaint,
          signs: dto.signs,
          conditions: dto.conditions,
          odometerKm: dto.odometerKm ?? null,
          altitudeM: dto.altitudeM,
          ambientC: dto.ambientC,
          baroKpa: dto.baroKpa ?? null,
          asFound: dto.asFound ?? null,
        }
      },
    })
  }
}
