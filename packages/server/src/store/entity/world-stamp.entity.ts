import { Column, Entity, PrimaryColumn } from 'typeorm';

/** Goes up, by triggers, with each change of what governs decisions: charters, fields, kinds, people, teams, queues, rates. */
@Entity('world_stamp')
export class WorldStampEntity {
  @PrimaryColumn({ type: 'tinyint', unsigned: true })
  id!: number;

  @Column({ type: 'bigint', unsigned: true })
  stamp!: string;
}
