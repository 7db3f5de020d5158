import type { PipelineFigures } from '@relvik/contracts';
import { PIPELINE_KINDS } from '@relvik/core';
import type { EntityManager } from 'typeorm';

const DAY = 86_400_000;
/** Moves are counted over so many days. */
const MOVE_DAYS = 30;

/** Counts and the median time of each stage, and the moves of the last 30 days, by gates and by hand. */
export async function pipelineFigures(manager: EntityManager, now: Date): Promise<PipelineFigures> {
  const stages: PipelineFigures['stages'][number][] = [];
  for (const kind of PIPELINE_KINDS) {
    const counts = await manager.query<{ stage: string; count: string; open: string }[]>(
      `SELECT stage, COUNT(*) AS count, SUM(status = 'open') AS open FROM \`${kind}\` GROUP BY stage`,
    );
    const medians = await manager.query<{ stage: string; days: string }[]>(
      `SELECT DISTINCT stage, MEDIAN(TIMESTAMPDIFF(SECOND, stage_since, ?) / 86400) OVER (PARTITION BY stage) AS days
       FROM \`${kind}\` WHERE status = 'open'`,
      [now],
    );
    const days = new Map(medians.map((one) => [one.stage, Number(one.days)]));
    for (const { stage, count, open } of counts)
      stages.push({
        ...{ stage, open: Number(open), closed: Number(count) - Number(open) },
        days: days.get(stage) ?? null,
      });
  }
  const moves = await manager.query<{ rule: string | null; from: string; to: string; count: string }[]>(
    `SELECT rule, JSON_VALUE(\`from\`, '$') AS \`from\`, JSON_VALUE(\`to\`, '$') AS \`to\`, COUNT(*) AS count
     FROM record_change WHERE field = 'stage' AND cause <> 'charter' AND at >= ? GROUP BY rule, \`from\`, \`to\``,
    [new Date(now.getTime() - MOVE_DAYS * DAY)],
  );
  return { stages, moves: moves.map(({ rule, from, to, count }) => ({ gate: rule, from, to, count: Number(count) })) };
}
