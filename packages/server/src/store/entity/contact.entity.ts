import { Column, Entity, Index, PrimaryColumn } from 'typeorm';
import { folded, whole } from './columns';
import { UnroutedEntity } from './unrouted.entity';

/** A person: one for an e-mail. */
@Entity('contact')
@Index('contact_one_per_email', ['email'], { unique: true })
@Index('contact_by_rank', ['rankOrder', 'id'])
@Index('contact_by_fit', ['fit', 'id'])
@Index('contact_by_engagement', ['engagement', 'id'])
@Index('contact_by_arrival', ['arrived', 'id'])
@Index('contact_by_owner', ['owner', 'rankOrder', 'id'])
@Index('contact_by_due', ['due', 'id'])
@Index('contact_by_company', ['company'])
@Index('contact_by_words', ['name'], { fulltext: true })
export class ContactEntity extends UnroutedEntity {
  /** Folded. */
  @Column({ ...folded, length: 320, nullable: true })
  email!: string | null;

  /** The company that they work for. */
  @Column({ ...whole, nullable: true })
  company!: number | null;
}

/** Another e-mail of a contact. */
@Entity('contact_alias')
@Index('contact_alias_by_contact', ['contact'])
export class ContactAliasEntity {
  @PrimaryColumn({ ...folded, length: 320 })
  folded!: string;

  @Column(whole)
  contact!: number;
}
