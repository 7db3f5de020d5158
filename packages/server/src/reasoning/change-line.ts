import type { Change } from '@relvik/contracts';
import type { ChangeEntity } from '../store/entity/history.entity';

/** A line of the history as pages show it. */
export function changeLine({ field, from, to, reason, at, cause, by, charter, rule }: ChangeEntity): Change {
  return { field, from, to, reason, at: at.getTime(), cause, by, charter, rule };
}
