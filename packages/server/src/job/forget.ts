import { type DataSource, LessThan, LessThanOrEqual } from 'typeorm';
import { forgetDelivered } from '../outbox/deliver';
import { forgetPauses } from '../session/sign-in-pauses';
import { RequestCountEntity } from '../store/entity/people.entity';
import { AnsweredRequestEntity } from '../store/entity/intake.entity';

const DAY = 86_400_000;

/** Takes away what is kept for a time only: answers to requests for a day, what the outbox carried out for a week. */
export async function forget(source: DataSource, now: Date): Promise<void> {
  await source.manager.delete(AnsweredRequestEntity, { at: LessThan(new Date(now.getTime() - DAY)) });
  await forgetDelivered(source, now);
  await forgetPauses(source, now);
  await source.manager.delete(RequestCountEntity, { ends: LessThanOrEqual(String(now.getTime())) });
}
