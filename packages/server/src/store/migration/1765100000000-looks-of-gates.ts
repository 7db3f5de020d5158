import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A look is kept under its gate's key and a hash of its stage and condition, and only of gates of the lead's stage. What was
 * true at the last look becomes `held`: enacting had used such gates up; they act when next something happens.
 *
 * A company says whether something happened to it, or only time has passed.
 */
export class LooksOfGates1765100000000 implements MigrationInterface {
  name = 'LooksOfGates1765100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `company` ADD COLUMN `touched` tinyint NOT NULL DEFAULT 0');
    await runner.query('UPDATE `company` SET `touched` = 1 WHERE `scored_at` IS NULL OR `due` <= UTC_TIMESTAMP(3)');
    await runner.query('ALTER TABLE `company` ALTER COLUMN `touched` DROP DEFAULT');
    const gates = await gatesInForce(runner);
    await rewrite(runner, (stage, looks) =>
      Object.fromEntries(
        gates.flatMap((gate) =>
          gate.on && gate.from === stage && looks[gate.key] === true ? [[lookKey(gate), 'held']] : [],
        ),
      ),
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    const gates = await gatesInForce(runner);
    await rewrite(runner, (_, looks) =>
      Object.fromEntries(gates.map((gate) => [gate.key, looks[lookKey(gate)] !== undefined])),
    );
    await runner.query('ALTER TABLE `company` DROP COLUMN `touched`');
  }
}

interface Gate {
  readonly key: string;
  readonly from: string;
  readonly on: boolean;
  readonly when: unknown;
}

type Looks = Readonly<Record<string, unknown>>;

async function gatesInForce(runner: QueryRunner): Promise<readonly Gate[]> {
  const [row] = (await runner.query('SELECT `body` FROM `charter` WHERE `in_force` = 1')) as { body: string }[];
  return row === undefined ? [] : (JSON.parse(row.body) as { gates: Gate[] }).gates;
}

/** Few gates have few states: each is rewritten at once. */
async function rewrite(runner: QueryRunner, change: (stage: string, looks: Looks) => Looks): Promise<void> {
  const states = (await runner.query('SELECT DISTINCT `stage`, `looks` FROM `lead`')) as {
    stage: string;
    looks: string;
  }[];
  for (const { stage, looks } of states)
    await runner.query('UPDATE `lead` SET `looks` = ? WHERE `stage` = ? AND `looks` = ?', [
      JSON.stringify(change(stage, JSON.parse(looks) as Looks)),
      stage,
      looks,
    ]);
}

/** As it is when this migration is written: later ones may change it. */
function lookKey({ key, from, when }: Gate): string {
  let hash = 0x811c9dc5;
  const text = JSON.stringify([from, when]);
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return `${key} ${(hash >>> 0).toString(16).padStart(8, '0')}`;
}
