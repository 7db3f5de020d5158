import { Column, Entity, PrimaryColumn } from 'typeorm';
import { instant, whole } from './columns';

/** After how long operations is told of a lead that waits in the bay: one row. */
@Entity('bay_alarm')
export class BayAlarmEntity {
  @PrimaryColumn({ type: 'tinyint', unsigned: true })
  id!: number;

  /** Null: never. */
  @Column({ ...whole, nullable: true })
  hours!: number | null;
}

/** A stay in the bay of which operations was told: it is told once. */
@Entity('bay_told')
export class BayToldEntity {
  @PrimaryColumn(whole)
  record!: number;

  /** Since when the lead waited there. */
  @Column(instant)
  since!: Date;
}
