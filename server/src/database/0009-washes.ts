import type { MigrationInterface, QueryRunner } from 'typeorm'

/** How far a wash came: its stages, what failed, a filter's oil. */
export class Washes1700000000009 implements MigrationInterface {
  readonly name = 'Washes1700000000009'

  async up(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "steps" ADD COLUMN "more" text')
  }

  async down(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "steps" DROP COLUMN "more"')
  }
}
