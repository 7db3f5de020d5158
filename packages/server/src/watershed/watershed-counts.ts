import type { Distribution, Home, IntakeState, PipelineFigures, RuleCounts, UnjudgedRow } from '@relvik/contracts';
import { type GroundCount, keyOfRole } from '@relvik/core';
import type { DataSource } from 'typeorm';
import type { User } from '../session/session-store';
import type { Sight } from '../session/sight';
import { unjudgedRows } from '../list/unjudged';
import { charterInForce, readGoverning } from '../store/governing';
import { type FieldCounts, readFieldCounts, readWays } from './catalogue-counts';
import { groundCounts } from './ground-counts';
import { homeOf } from './home';
import { KeptCount } from './kept-count';
import { pipelineFigures } from './pipeline-figures';
import { RouteHistory } from './route-counts';
import { distributionOf, ruleCounts } from './rule-counts';
import { readTally, type Tally } from './tally';

/** From so many records on, counts over all of them take about half a second. */
const MANY = 200_000;
/** The same of counts that look up several values of each record. */
const MANY_VALUES = 20_000;
/** Most score sets whose distribution is kept. */
const MOST_SETS = 100;

/** The counts over all records that pages show. Those that take long are kept. */
export class WatershedCounts {
  private readonly tally: KeptCount<Tally>;
  private readonly ruled: KeptCount<RuleCounts>;
  private readonly ofGrounds: KeptCount<GroundCount[]>;
  private readonly ofPipelines: KeptCount<PipelineFigures>;
  private readonly ofFields: KeptCount<FieldCounts>;
  private readonly ofWays: KeptCount<IntakeState['ways']>;
  private readonly ofUnjudged: KeptCount<UnjudgedRow[]>;
  private readonly distributions = new Map<string, KeptCount<Distribution>>();

  /**
   * @param source for what requests ask
   * @param counting for counts, which may take long
   */
  constructor(
    private readonly source: DataSource,
    private readonly counting: DataSource,
    private readonly now: () => Date,
  ) {
    const { manager } = counting;
    this.tally = this.keptOf(async () => {
      const { world } = await readGoverning(manager, 'none');
      return readTally(manager, keyOfRole(world.fields, 'lead', 'source'), this.now());
    });
    const history = new RouteHistory();
    this.ruled = this.keptOf(() => ruleCounts(manager, history));
    this.ofGrounds = this.keptOf(() => groundCounts(manager), MANY_VALUES);
    this.ofPipelines = this.keptOf(() => pipelineFigures(manager, this.now()));
    this.ofFields = this.keptOf(() => readFieldCounts(manager));
    this.ofWays = this.keptOf(() => readWays(manager, this.now()));
    this.ofUnjudged = this.keptOf(() => unjudgedRows(manager));
  }

  /** Makes all counts once, so that the first request does not wait for them. */
  async warm(): Promise<void> {
    await this.tally.get();
    await this.ruled.get();
    await this.ofGrounds.get();
    await this.ofPipelines.get();
    await this.ofFields.get();
    await this.ofWays.get();
    await this.ofUnjudged.get();
    const { body } = await charterInForce(this.counting.manager, 'none');
    for (const { key } of body.scoreSets) await this.distribution(key);
  }

  /** Makes kept counts again that are old, one after the other. */
  async refresh(): Promise<void> {
    for (const kept of [
      this.tally,
      this.ruled,
      this.ofGrounds,
      this.ofPipelines,
      this.ofFields,
      this.ofWays,
      this.ofUnjudged,
      ...this.distributions.values(),
    ])
      await kept.refresh();
  }

  async home(sight: Sight, user: User, now: Date): Promise<Home> {
    return homeOf(this.source.manager, await this.tally.get(), sight, user, now);
  }

  async rules(): Promise<RuleCounts> {
    return (await this.ruled.get()).value;
  }

  async grounds(): Promise<GroundCount[]> {
    return (await this.ofGrounds.get()).value;
  }

  async pipelines(): Promise<PipelineFigures> {
    return (await this.ofPipelines.get()).value;
  }

  async fields(): Promise<FieldCounts> {
    return (await this.ofFields.get()).value;
  }

  async ways(): Promise<IntakeState['ways']> {
    return (await this.ofWays.get()).value;
  }

  async unjudged(): Promise<UnjudgedRow[]> {
    return (await this.ofUnjudged.get()).value;
  }

  /** The same after values were corrected. */
  unjudgedNow(): Promise<UnjudgedRow[]> {
    return this.ofUnjudged.now();
  }

  async distribution(set: string): Promise<Distribution> {
    if (this.distributions.size > MOST_SETS) this.distributions.clear();
    const kept = this.distributions.get(set) ?? this.keptOf(() => distributionOf(this.counting.manager, set));
    this.distributions.set(set, kept);
    return (await kept.get()).value;
  }

  private keptOf<T>(count: () => Promise<T>, many = MANY): KeptCount<T> {
    return new KeptCount(
      count,
      () => this.areMany(many),
      () => this.now().getTime(),
    );
  }

  /** Ids are given in order, so the last one says it without counting. */
  private async areMany(many: number): Promise<boolean> {
    const [row] = await this.source.query<{ last: number | null }[]>('SELECT MAX(id) AS last FROM record');
    return (row?.last ?? 0) >= many;
  }
}
