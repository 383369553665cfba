import type { MigrationInterface, QueryRunner } from 'typeorm'

/** A repair names the find that it answers. */
export class Finds1700000000102 implements MigrationInterface {
  readonly name = 'Finds1700000000102'

  async up(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "repairs" ADD COLUMN "finding" text COLLATE "C"')
  }

  async down(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "repairs" DROP COLUMN "finding"')
  }
}
