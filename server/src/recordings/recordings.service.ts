import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { maybeChannel, vehicleAtPlace, type Mapping, type RecordingRecord, type Trace } from '@uvula/core'
import { DataSource, IsNull, Not } from 'typeorm'
import { Blobs } from '../records/blobs.js'
import { badField, badFile, notFound } from '../records/problem.js'
import { RecordWriter, type WriteRequest } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import { Clerk } from '../threads/clerk.js'
import { Viewer, type KeptRecording } from '../threads/viewer.js'
import type { RecordingDto } from './recording.dto.js'
import { UploadsService } from '../uploads/uploads.service.js'
import { RecordingEntity } from './recording.entity.js'

/** Rows of a trace that is drawn. */
const TRACE_ROWS = 1500
/** Recordings whose columns somebody named that are looked through, newest first. */
const MAPPINGS_LOOKED = 500

@Injectable()
export class RecordingsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
    private readonly blobs: Blobs,
    private readonly viewer: Viewer,
    private readonly clerk: Clerk,
    private readonly uploads: UploadsService,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  /** Keeps the original and what was read from it. @throws ProblemException when it is no recording */
  async write(id: string, key: string | undefined, dto: RecordingDto): Promise<RecordingRecord> {
    if (dto.content === undefined && dto.upload === undefined) return this.change(id, key, dto)
    const bytes = dto.upload === undefined ? this.blobs.decode(dto.content) : await this.uploads.whole(dto.upload)
    if (!bytes || (dto.uploadBytes ?? bytes.length) !== bytes.length) return this.again(id, key, dto)
    const mapping = checkedMapping(dto.mapping)
    const size = bytes.length
    const vehicle = vehicleAtPlace(await this.files.get(dto.visitId))
    const read = await this.clerk.read({ bytes, mapping, vehicle, stretches: dto.stretches ?? undefined })
    if ('problem' in read) throw badFile(read.problem.code, `${dto.name}: ${read.problem.message}`)
    if ('stretches' in read) throw badField('stretches', dto.stretches, read.stretches)
    const blob = { sha256: read.sha256, mime: 'text/csv', bytes: size, content: Buffer.from(read.packed) }
    const record = await this.put(id, key, dto, async (manager) => ({
      visitId: dto.visitId,
      round: dto.round,
      name: dto.name,
      sha256: await this.blobs.put(manager, blob),
      bytes: size,
      rows: read.rows,
      points: [...read.points],
      closedThrottlePct: read.closedThrottlePct ?? null,
      warnings: [...read.warnings],
      mapping: mapping ?? null,
      stretches: dto.stretches ?? null,
      columns: Buffer.from(read.columns),
    }))
    if (dto.upload !== undefined) await this.uploads.done(dto.upload)
    return record
  }

  /** The file is not here, or not whole: it was written before, and gets the same answer, or it has to be sent. */
  private again(id: string, key: string | undefined, dto: RecordingDto): Promise<RecordingRecord> {
    return this.put(id, key, dto, () => {
      throw badField('upload', dto.upload, 'the key of a file that has arrived: send its pieces first')
    })
  }

  private put(
    id: string,
    key: string | undefined,
    dto: RecordingDto,
    fields: WriteRequest<RecordingEntity>['fields'],
  ): Promise<RecordingRecord> {
    return this.writer.write({ noun: 'recordings', entity: RecordingEntity, id, key, dto, fields })
  }

  /** Another choice of stretches, or taken off; the file itself stays as it was dropped. */
  private async change(id: string, key: string | undefined, dto: RecordingDto): Promise<RecordingRecord> {
    const changed = dto.deleted || dto.stretches === undefined ? {} : await this.chosen(id, dto)
    return this.put(id, key, dto, async (_, current) => {
      if (!current) throw notFound('This recording')
      return changed
    })
  }

  private async chosen(id: string, dto: RecordingDto): Promise<Partial<RecordingEntity>> {
    const vehicle = vehicleAtPlace(await this.files.get((await this.summary(id)).visitId))
    const read = await this.viewer.points(await this.kept(id), { vehicle, stretches: dto.stretches ?? undefined })
    if ('stretches' in read) throw badField('stretches', dto.stretches, read.stretches)
    return { points: [...read.points], stretches: dto.stretches }
  }

  async original(id: string): Promise<{ bytes: Buffer; name: string }> {
    const r = await this.summary(id)
    return { bytes: (await this.blobs.get(r.sha256)).bytes, name: r.name }
  }

  /** @param span - a closer look, from one time to another [s] */
  async trace(id: string, channels: readonly string[], span?: readonly [number, number]): Promise<Trace> {
    return this.viewer.trace(await this.kept(id), { channels, rows: TRACE_ROWS, span })
  }

  /** @throws ProblemException where there is none of that id */
  private async kept(id: string): Promise<KeptRecording> {
    const repository = this.source.manager.getRepository(RecordingEntity)
    const found = await repository.findOne({ where: { id }, select: { id: true, version: true } })
    if (!found) throw notFound('This recording')
    return {
      key: `${id} ${found.version}`,
      columns: async () =>
        (await repository.findOneOrFail({ where: { id }, select: { id: true, columns: true } })).columns,
    }
  }

  /** What people of this shop said that columns mean, one a set of labels, the newest first. */
  async mappings(): Promise<readonly Mapping[]> {
    const rows = await this.source.manager.find(RecordingEntity, {
      where: { mapping: Not(IsNull()), deleted: false },
      select: { id: true, mapping: true },
      order: { at: 'DESC' },
      take: MAPPINGS_LOOKED,
    })
    const by = new Map<string, Mapping>()
    for (const { mapping } of rows) {
      const key = Object.keys(mapping!).sort().join('\n')
      if (!by.has(key)) by.set(key, mapping!)
    }
    return [...by.values()]
  }

  /** What was read, in the canonical form. */
  async canonical(id: string): Promise<{ bytes: Buffer; name: string }> {
    const r = await this.source.manager.findOneBy(RecordingEntity, { id })
    if (!r) throw notFound('This recording')
    return {
      bytes: Buffer.from(await this.clerk.canonical(r.columns)),
      name: `${r.name.replace(/\.[a-z]+$/i, '')}-canonical.csv`,
    }
  }

  private async summary(id: string): Promise<RecordingEntity> {
    const r = await this.source.manager.findOne(RecordingEntity, { where: { id }, select: RecordingEntity.summary })
    if (!r) throw notFound('This recording')
    return r
  }
}

/** @throws ProblemException naming the label that is given no channel */
function checkedMapping(mapping: Record<string, string> | undefined): Mapping | undefined {
  for (const [label, id] of Object.entries(mapping ?? {}))
    if (id !== 'none' && !maybeChannel(id))
      throw badField('mapping', id, `"${label}" must be a channel's id, as in maf_gs, or none`)
  return mapping as Mapping | undefined
}
