import type { NoteActivity } from '@relvik/contracts';
import type { UnroutedKind } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { ActivityEntity } from '../store/entity/history.entity';
import { readKinds } from '../store/governing';
import { insertRows } from '../store/rows';
import { touchAbove } from './change-record';
import { onRecord } from './record-in-hand';
import { handSource } from './change-source';
import { decideDeal } from './decide-deals';
import { makeDueBelow } from './due-across';
import type { Hand } from './hand';
import { checkActivity } from './check-activity';
import { touchUnrouted } from './touch-parties';

/** Notes by hand what happened with a contact, company or deal. A deal is decided at once; other records, and those that count its activities, are scored again a moment later. */
export function noteActivity(
  source: DataSource,
  kind: UnroutedKind,
  id: number,
  noted: NoteActivity,
  hand: Hand,
): Promise<void> {
  return onRecord(source, kind, id, 'edit', hand, async (manager, { stored: { entity }, governing }) => {
    const kinds = new Map((await readKinds(manager)).map((one) => [one.key, one]));
    const checked = checkActivity(noted, kinds, hand.at);
    if (checked.kind === 'refused') throw Refused.invalid([{ path: `/${checked.field}`, message: checked.message }]);
    const { properties = {} } = noted;
    await insertRows(manager, ActivityEntity, [
      {
        record: entity.id,
        kind: noted.kind,
        at: checked.at,
        properties: Object.keys(properties).length === 0 ? null : properties,
        sender: null,
        event: null,
      },
    ]);
    await touchUnrouted(manager, kind, [entity.id], hand.at);
    await touchAbove(manager, kind, entity, null, hand.at);
    if (kind === 'contact') await makeDueBelow(manager, [entity.id], hand.at);
    if (kind === 'deal') await decideDeal(manager, entity.id, 'activity', governing, handSource(hand));
  });
}
