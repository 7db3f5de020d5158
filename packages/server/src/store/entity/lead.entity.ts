import type { BayReason, Look, Place, RecordKind, Status, Way } from '@relvik/core';
import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { folded, instant, json, key, whole } from './columns';
import { ScoredEntity } from './scored.entity';

/** The parent of leads, contacts, companies and deals. */
@Entity('record')
export class RecordEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column({ type: 'varchar', length: 12 })
  /** A record that was removed, or joined into another, keeps its id: it is never used again. */
  kind!: RecordKind | 'removed' | 'joined';

  @Column(instant)
  createdAt!: Date;
}

/** What is kept of a lead beside its field values: where it stands, and what was decided last. */
@Entity('lead')
@Index('lead_by_rank', ['status', 'rankOrder', 'id'])
@Index('lead_by_fit', ['status', 'fit', 'id'])
@Index('lead_by_engagement', ['status', 'engagement', 'id'])
@Index('lead_by_owner', ['owner', 'status', 'rankOrder', 'id'])
@Index('lead_by_queue', ['queue', 'status', 'rankOrder', 'id'])
@Index('lead_by_stage', ['stage', 'status', 'rankOrder', 'id'])
@Index('lead_by_territory', ['territory', 'status', 'rankOrder', 'id'])
@Index('lead_by_grade', ['fitBand', 'engagementBand', 'status', 'rankOrder', 'id'])
@Index('lead_by_set', ['scoreSet'])
@Index('lead_by_arrival', ['status', 'arrived', 'id'])
@Index('lead_by_place', ['place', 'status', 'since', 'id'])
@Index('lead_by_change', ['status', 'changesAt', 'id'])
@Index('lead_by_words', ['name', 'company'], { fulltext: true })
@Index('lead_by_email', ['email'])
@Index('lead_by_route', ['route', 'place', 'status', 'since', 'id'])
@Index('lead_by_waiting', ['waitsFor', 'status', 'route', 'since', 'id'])
@Index('lead_by_company', ['companyId'])
@Index('lead_by_contact', ['contact'])
@Index('lead_by_deputy', ['deputyFor'])
@Index('lead_one_open', ['openFor', 'pipeline'], { unique: true })
export class LeadEntity extends ScoredEntity {
  @PrimaryColumn(whole)
  id!: number;

  /** Goes up with each change, so that nobody's edit is overwritten silently. */
  @Column(whole)
  version!: number;

  @Column({ type: 'varchar', length: 200 })
  name!: string;

  @Column({ type: 'varchar', length: 200 })
  company!: string;

  /** The person whose it is; null: no e-mail is known. */
  @Column({ ...whole, nullable: true })
  contact!: number | null;

  /** The company that it is with; null: none is known. */
  @Column({ ...whole, nullable: true })
  companyId!: number | null;

  /** Folded, as far as it is an e-mail. */
  @Column({ ...folded, length: 320, nullable: true })
  email!: string | null;

  /** The contact, or the company where no person is named, for whom it is the one open lead of its pipeline; see open-for.ts. */
  @Column({ ...whole, nullable: true })
  openFor!: number | null;

  @Column({ type: 'varchar', length: 14 })
  status!: Status;

  @Column(key)
  stage!: string;

  /** The pipeline of its stage. */
  @Column(key)
  pipeline!: string;

  /** The pipeline that its way in named; null: the first. */
  @Column({ ...key, nullable: true })
  cameInto!: string | null;

  /** When it entered its stage. */
  @Column(instant)
  stageSince!: Date;

  @Column({ type: 'varchar', length: 16 })
  place!: Place['kind'];

  /** Since when it is in this place. */
  @Column(instant)
  since!: Date;

  @Column({ ...key, nullable: true })
  owner!: string | null;

  @Column({ ...key, nullable: true })
  queue!: string | null;

  @Column({ ...json, nullable: true })
  bay!: BayReason | null;

  /** Why a route leads it to nobody; null: none does. */
  @Column({ type: 'varchar', length: 200, nullable: true })
  nobodyBecause!: string | null;

  /** The team for which it waits in the bay, so that its managers see it. */
  @Column({ ...key, nullable: true })
  bayTeam!: string | null;

  /** In the bay until someone is free: for its route alone, or for others after it as well; null: it doesn't wait for someone. */
  @Column({ type: 'varchar', length: 8, charset: 'ascii', collation: 'ascii_bin', nullable: true })
  waitsFor!: 'route' | 'routes' | null;

  @Column({ ...key, nullable: true })
  territory!: string | null;

  @Column({ ...key, nullable: true })
  pin!: string | null;

  /** The route that gave it its place. */
  @Column({ ...key, nullable: true })
  route!: string | null;

  /** The queue from which its owner picked it up; null: from none. */
  @Column({ ...key, nullable: true })
  pickedFrom!: string | null;

  /** Someone who is away, and for whom its owner stands in; null: for nobody. */
  @Column({ ...key, nullable: true })
  deputyFor!: string | null;

  /** Whether its owner was asked to accept it, and did; null: nobody asked. */
  @Column({ type: 'varchar', length: 8, charset: 'ascii', collation: 'ascii_bin', nullable: true })
  acceptance!: 'asked' | 'accepted' | null;

  /** Those who gave it back; null: nobody. */
  @Column({ ...json, nullable: true })
  givenBackBy!: readonly string[] | null;

  /** How many deals of it are open. */
  @Column({ ...whole, default: 0 })
  openDeals!: number;

  /** Looks of the gates of its stage, by look key. */
  @Column(json)
  looks!: Record<string, Look>;

  @Column(instant)
  arrived!: Date;

  /** When something last happened with it: it came in, did something, or was worked on by hand. */
  @Column(instant)
  touchedAt!: Date;

  @Column({ type: 'varchar', length: 8 })
  way!: Way;

  /** Made to try something: it can be removed without a trace in lists and counts. */
  @Column({ type: 'boolean' })
  test!: boolean;

  /** The number of the charter that gave the values above, and when. */
  @Column(whole)
  charter!: number;

  @Column(instant)
  decidedAt!: Date;

  /** The earliest moment at which a score changes by itself; null for a lead that is closed. */
  @Column({ ...instant, nullable: true })
  changesAt!: Date | null;

  @Column({ ...instant, nullable: true })
  closedAt!: Date | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  closeReason!: string | null;
}
