import type { Look, Status } from '@relvik/core';
import { Column, Entity, Index } from 'typeorm';
import { instant, json, key, whole } from './columns';
import { UnroutedEntity } from './unrouted.entity';

/** A deal: of a company, perhaps with a contact and the lead it came from. */
@Entity('deal')
@Index('deal_by_rank', ['status', 'rankOrder', 'id'])
@Index('deal_by_fit', ['status', 'fit', 'id'])
@Index('deal_by_engagement', ['status', 'engagement', 'id'])
@Index('deal_by_arrival', ['status', 'arrived', 'id'])
@Index('deal_by_owner', ['owner', 'status', 'rankOrder', 'id'])
@Index('deal_by_stage', ['stage', 'status', 'rankOrder', 'id'])
@Index('deal_by_due', ['due', 'id'])
@Index('deal_by_contact', ['contact'])
@Index('deal_by_company', ['company'])
@Index('deal_by_lead', ['lead'])
@Index('deal_by_closing', ['status', 'closedAt'])
@Index('deal_by_words', ['name'], { fulltext: true })
export class DealEntity extends UnroutedEntity {
  @Column({ ...whole, nullable: true })
  contact!: number | null;

  @Column({ ...whole, nullable: true })
  company!: number | null;

  /** The lead that it came from. */
  @Column({ ...whole, nullable: true })
  lead!: number | null;

  @Column({ type: 'varchar', length: 14 })
  status!: Status;

  @Column(key)
  stage!: string;

  @Column(instant)
  stageSince!: Date;

  /** The pipeline into which it came; null: the first. */
  @Column({ ...key, nullable: true })
  cameInto!: string | null;

  /** Looks of the gates of its stage, by look key. */
  @Column(json)
  looks!: Record<string, Look>;

  @Column({ ...instant, nullable: true })
  closedAt!: Date | null;

  @Column({ type: 'varchar', length: 500, nullable: true })
  closeReason!: string | null;
}
