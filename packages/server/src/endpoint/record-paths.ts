import type { UnroutedKind } from '@relvik/core';

/** Under which path the records of each kind are. */
export const RECORD_PATHS = {
  contact: '/api/contacts',
  company: '/api/companies',
  deal: '/api/deals',
} as const satisfies Record<UnroutedKind, string>;
