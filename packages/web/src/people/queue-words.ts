import type { QueueOrder } from '@relvik/contracts';

export const QUEUE_ORDER_WORDS: Readonly<Record<QueueOrder, string>> = {
  oldest: 'what has waited longest',
  rank: 'what ranks best',
};
