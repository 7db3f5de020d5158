import {
  changeFieldSchema,
  type Corrected,
  correctSchema,
  type FieldRow,
  newFieldSchema,
  type SaidRow,
  type UnjudgedRow,
} from '@relvik/contracts';
import {
  type Catalogue,
  type Field,
  fieldProblems,
  fold,
  hasChoice,
  isChosen,
  kindOfField,
  roleOf,
  takesAnyOption,
} from '@relvik/core';
import type { DataSource } from 'typeorm';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { byKey } from '../http/read';
import { Refused } from '../problem/refused';
import { readFields } from '../store/governing';
import { FieldEntity } from '../store/entity/catalogue.entity';
import { correctTogether } from '../act/correct-together';
import { refuseIfNeededInForce } from '../act/needed-in-force';
import { saidRows } from '../list/said-rows';
import { isTieKind, listsOf, optionListEndpoints } from './option-list-endpoints';
import type { WatershedCounts } from '../watershed/watershed-counts';

/** @throws Refused if a field may not be among the others as it is */
function refuseProblems(field: Field, known: Catalogue): void {
  const problems = fieldProblems(field, known);
  if (problems.length > 0) throw Refused.invalid(problems.map(({ at, message }) => ({ path: `/${at}`, message })));
}

/** Fields of all kinds of records. They are rows, so that what an admin adds is usable at once, everywhere. */
export function fieldEndpoints(source: DataSource, counts: WatershedCounts): Endpoint[] {
  const { manager } = source;

  async function fields(): Promise<FieldRow[]> {
    const known = await readFields(manager);
    const { filled, unreadable } = await counts.fields();
    return [...known.values()].map((field) => ({
      ...field,
      filled: filled.get(field.key) ?? 0,
      unreadable: unreadable.get(field.key) ?? 0,
    }));
  }

  /** Options that are no longer offered, and that some lead has. */
  async function retiredOptions({ key, options, retiredOptions: before = [] }: Field, now: readonly string[]) {
    const offered = new Set(now.map(fold));
    const gone = [...options, ...before].filter((option) => !offered.has(fold(option)));
    if (gone.length === 0) return [];
    const rows = await manager.query<{ choices: string | null; folded: string }[]>(
      "SELECT DISTINCT choices, folded FROM field_value WHERE field = ? AND kind IN ('text', 'choices')",
      [key],
    );
    const carried = rows.map(({ choices, folded }) => choices ?? `;${folded};`);
    return gone.filter((option) => carried.some((combination) => hasChoice(combination, fold(option))));
  }

  return [
    ...optionListEndpoints(source),
    endpoint({
      method: 'get',
      path: '/api/unjudged',
      who: ADMIN,
      answer: json<UnjudgedRow[]>(),
      call: () => counts.unjudged(),
    }),
    endpoint({
      method: 'get',
      path: '/api/said',
      who: ADMIN,
      answer: json<SaidRow[]>(),
      call: () => saidRows(manager),
    }),
    endpoint({
      method: 'post',
      path: '/api/unjudged',
      who: ADMIN,
      patience: 180_000,
      body: correctSchema,
      answer: json<Corrected>(),
      async call({ caller, body, now }) {
        const corrected = await correctTogether(source, body, { user: caller, at: now });
        return { corrected, rows: await counts.unjudgedNow() };
      },
    }),
    endpoint({ method: 'get', path: '/api/fields', who: ADMIN, answer: json<FieldRow[]>(), call: () => fields() }),
    endpoint({
      method: 'post',
      path: '/api/fields',
      who: ADMIN,
      body: newFieldSchema,
      answer: json<FieldRow[]>(201),
      async call({ body }) {
        const { key, name, type, options, personal, role = null, feeds = null, optionList = null } = body;
        const known = await readFields(manager);
        const field = { key, name, type, options, retired: false, role, feeds };
        if (known.has(key))
          throw Refused.invalid([{ path: '/key', message: 'stands already; a key is never used again' }]);
        refuseProblems(field, known);
        const lists = await listsOf(manager, optionList, type);
        if (isChosen(type) && options.length === 0 && lists === null)
          throw Refused.invalid([{ path: '/options', message: 'needs at least one option' }]);
        const row = {
          ...{ key, name, type, role, feeds, optionList, personal },
          options: isChosen(type) ? [...options] : [],
          retiredOptions: [],
          retired: false,
          position: ((await manager.maximum(FieldEntity, 'position')) ?? 0) + 1,
        };
        await manager.insert(FieldEntity, row);
        return fields();
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/fields/:key',
      who: ADMIN,
      params: byKey,
      body: changeFieldSchema,
      answer: json<FieldRow[]>(),
      async call({ body, params, now }) {
        const { name, options, retired, personal } = body;
        const known = await readFields(manager);
        const field = known.get(params.key);
        if (field === undefined) throw Refused.notFound();
        const feeds = body.feeds === undefined ? (field.feeds ?? null) : body.feeds;
        const optionList = body.optionList === undefined ? (field.optionList ?? null) : body.optionList;
        const role = body.role === undefined ? roleOf(field) : body.role;
        if (role !== roleOf(field) && !(kindOfField(field.key) === 'lead' && field.type === 'money'))
          throw Refused.invalid([{ path: '/role', message: 'is given once' }]);
        refuseProblems({ ...field, role, feeds, retired }, known);
        const lists = await listsOf(manager, optionList, field.type);
        const chosen = isChosen(field.type) && !takesAnyOption(field) && lists === null;
        if (chosen && options.length === 0)
          throw Refused.invalid([{ path: '/options', message: 'needs at least one option' }]);
        const kept = {
          ...{ name, retired, role, feeds, optionList },
          options: chosen ? [...options] : [],
          retiredOptions: chosen ? await retiredOptions(field, options) : [],
          personal: personal ?? field.personal ?? false,
        };
        const { optionList: _, ...own } = kept;
        const after = lists === null ? own : { ...own, options: lists.options, retiredOptions: lists.retiredOptions };
        const changed = { ...field, ...after };
        await refuseIfNeededInForce(manager, (known) => ({
          ...known,
          fields: new Map([...known.fields, [changed.key, changed]]),
        }));
        await manager.update(FieldEntity, { key: field.key }, kept);
        // Values that leads have already are fed into the new target, too.
        if (feeds !== null && feeds !== field.feeds && isTieKind(kindOfField(feeds)))
          await manager.query(`UPDATE ${kindOfField(feeds)} SET due = ?, touched = 1, changes = changes + 1`, [now]);
        return fields();
      },
    }),
  ];
}
