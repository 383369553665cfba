import type { MigrationInterface, QueryRunner } from 'typeorm'

/** A test made again says what was done before it. */
export class Again1700000000103 implements MigrationInterface {
  readonly name = 'Again1700000000103'

  async up(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "findings" ADD COLUMN "afterWork" integer')
  }

  async down(q: QueryRunner): Promise<void> {
    await q.query('ALTER TABLE "findings" DROP COLUMN "afterWork"')
  }
}
