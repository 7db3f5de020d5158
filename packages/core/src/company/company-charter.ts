import type { Charter } from '../charter/charter';
import type { ReadyCharter } from '../charter/ready-charter';

/**
 * The part of a charter that governs companies, as a charter by itself: their score sets, and neither gates nor routes. All
 * that computes with charters computes with it, over companies.
 */
export function companyCharter(charter: Charter): Charter {
  const scoreSets = charter.scoreSets
    .filter((set) => set.of === 'company')
    .map((set) => ({ ...set, of: 'lead' as const }));
  return { ...charter, scoreSets, gates: [], streams: [] };
}

/** The same of one that is bound already. */
export function readyForCompanies(ready: ReadyCharter): ReadyCharter {
  return {
    ...ready,
    charter: companyCharter(ready.charter),
    scoreSets: ready.companySets,
    companySets: [],
    gates: [],
    streams: [],
  };
}
