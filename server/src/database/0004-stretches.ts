import type { MigrationInterface, QueryRunner } from 'typeorm'

/** Stretches of a recording that a technician chose. */
export class Stretches1700000000004 implements MigrationInterface {
  readonly name = 'Stretches1700000000004'

  async up(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "recordings" ADD COLUMN "stretches" text')
  }

  async down(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "recordings" DROP COLUMN "stretches"')
  }
}
