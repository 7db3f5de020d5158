import type { DoctorFinding } from '@relvik/contracts';
import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';
import { instant, json } from './columns';

/** What the doctor found on one of its rounds. */
@Entity('doctor_report')
@Index('doctor_report_by_age', ['at'])
export class DoctorReportEntity {
  @PrimaryGeneratedColumn({ type: 'int', unsigned: true })
  id!: number;

  @Column(instant)
  at!: Date;

  @Column(json)
  findings!: readonly DoctorFinding[];
}
