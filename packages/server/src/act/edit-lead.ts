import {
  dayOf,
  formProblem,
  type Handling,
  kindOfField,
  type Raw,
  readValue,
  sameValue,
  type Value,
  withOptionsOf,
  countryToReadBy,
} from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { edited } from './act';
import { handOf } from './cause';
import { byHand, type Hand } from './hand';
import { perform } from './perform';
import { forget } from './said-values';
import { handlingByHand } from '../store/ways-in';

/** Values that a person writes into fields. */
export interface Edit {
  /** The one that was read: nobody else's change is overwritten. */
  readonly version: number;
  readonly values: Readonly<Record<string, Raw>>;
  /** Missing: as is set for leads typed in by hand. */
  readonly handling?: Handling;
}

/**
 * Changes field values by hand; the lead is decided again as far as is said.
 */
export function editLead(
  source: DataSource,
  id: number,
  { version, values: raw, handling }: Edit,
  hand: Hand,
): Promise<void> {
  return byHand(source, id, 'edit', hand, async (acting, { lead }) => {
    if (lead.entity.version !== version) throw Refused.as('lead-changed');
    const governing = await readGoverning(acting.manager, 'share');
    const day = dayOf(hand.at.getTime(), governing.ready.charter.timeZone);
    const changed = new Map<string, Value>();
    for (const [key, written] of Object.entries(raw)) {
      const field = governing.world.fields.get(key);
      if (field === undefined || field.retired || kindOfField(key) !== 'lead')
        throw Refused.invalid([{ path: `/values/${key}`, message: 'is no field' }]);
      const message = formProblem(field, written);
      if (message !== null) throw Refused.invalid([{ path: `/values/${key}`, message }]);
      const before = lead.record.values.get(key);
      const country = countryToReadBy(field, governing.world.fields, 'lead', (one) => raw[one], lead.record.values);
      const value = readValue(withOptionsOf(field, before), written, day, country);
      if (!sameValue(before, value)) changed.set(key, value);
    }
    await forget(
      acting.manager,
      [...changed.keys()].map((field) => [id, field] as const),
    );
    if (changed.size === 0) return;
    const how = handling ?? (await handlingByHand(acting.manager));
    await perform(acting, [edited(lead, changed, 'edited', handOf(hand.user), hand.at, how)], governing);
  });
}
