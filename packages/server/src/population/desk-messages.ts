import type { DeskQuestion } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import type { Access } from '../store/open-database';

/** What the thread of the desk is begun with. */
export interface DeskThreadData {
  readonly access: Access;
  readonly of: RecordKind;
}

export type ToDesk = { readonly kind: 'load' | 'as-arrow' } | { readonly kind: 'ask'; readonly question: DeskQuestion };
