import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The route of a lead is the one that placed it: who was given one by hand has it from none. */
export class GivenByHand1767600000000 implements MigrationInterface {
  name = 'GivenByHand1767600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`UPDATE \`lead\` l SET l.route = NULL WHERE l.place = 'owner' AND l.route IS NOT NULL AND (
      SELECT c.cause FROM record_change c WHERE c.record = l.id AND c.field = 'place' ORDER BY c.id DESC LIMIT 1
    ) = 'hand'`);
  }

  /** Which route had led such a lead before is in its history alone. */
  async down(): Promise<void> {
    // Nothing to take back: a lead without a route was allowed before.
  }
}
