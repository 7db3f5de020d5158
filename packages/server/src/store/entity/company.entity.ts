import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { folded, whole } from './columns';
import { UnroutedEntity } from './unrouted.entity';

/** A company that leads and contacts work for, or that is worked before anyone there is known. */
@Entity('company')
@Index('company_one_per_identity', ['identity'], { unique: true })
@Index('company_by_rank', ['rankOrder', 'id'])
@Index('company_by_fit', ['fit', 'id'])
@Index('company_by_engagement', ['engagement', 'id'])
@Index('company_by_arrival', ['arrived', 'id'])
@Index('company_by_owner', ['owner', 'rankOrder', 'id'])
@Index('company_by_due', ['due', 'id'])
@Index('company_by_words', ['name'], { fulltext: true })
export class CompanyEntity extends UnroutedEntity {
  /** The country that tells it apart from others of its name. */
  @Column({ type: 'char', length: 2, charset: 'ascii', collation: 'ascii_bin', nullable: true })
  country!: string | null;

  /** Of what it was made, until it is looked at: two servers that make the same company at once make one. */
  @Column({ ...folded, length: 400 })
  identity!: string;
}

export const COMPANY_KEYS = ['name', 'domain'] as const;

/** A name, alias name or mail domain of a company. */
@Entity('company_key')
@Index('company_key_by_company', ['company'])
export class CompanyKeyEntity {
  @PrimaryColumn({ type: 'varchar', length: 6, charset: 'ascii', collation: 'ascii_bin' })
  kind!: (typeof COMPANY_KEYS)[number];

  @PrimaryColumn({ ...folded, length: 190 })
  folded!: string;

  @PrimaryColumn(whole)
  company!: number;
}

/** A word that names no company, such as "n/a", or the domain of a free mailbox. */
@Entity('no_company')
export class NoCompanyEntity {
  @PrimaryColumn({ type: 'varchar', length: 6, charset: 'ascii', collation: 'ascii_bin' })
  kind!: (typeof COMPANY_KEYS)[number];

  @PrimaryColumn({ ...folded, length: 190 })
  folded!: string;

  /** As the admin wrote it. */
  @Column({ type: 'varchar', length: 190 })
  word!: string;
}

/** Stored names are told apart by so many characters. */
export const LONGEST_NAME = 190;
