import type { Change, Changed } from '@relvik/contracts';
import { type BayReason, gradeWords, type Names, type Place, showValue, type Wording } from '@relvik/core';
import { shownAs } from '../wording/shown-as';

function isPlace(changed: Exclude<Changed, string | null>): changed is Place {
  return ['owner', 'queue', 'bay', 'not-handed-over'].includes(changed.kind);
}

/** Where a lead was or is, in few words. */
function whereWords(place: Place, { names }: Wording): string {
  switch (place.kind) {
    case 'owner':
      return names.rep(place.rep);
    case 'queue':
      return `queue ${names.queue(place.queue)}`;
    case 'bay':
      return BAY[place.reason.why];
    case 'not-handed-over':
      return 'not handed over';
  }
}

const BAY: Readonly<Record<BayReason['why'], string>> = {
  'nobody-free': 'the bay, nobody free',
  scheduled: 'the bay, until its stream runs',
  unjudged: 'the bay, can’t be judged',
  loop: 'the bay, runs in a circle',
};

function shown(field: string, changed: Exclude<Changed, null>, wording: Wording): string {
  const { names, fields } = wording;
  if (typeof changed === 'string') return keyWords(field, changed, names);
  if (isPlace(changed)) return whereWords(changed, wording);
  const text = changed.kind === 'shown' ? changed.text : showValue(changed);
  return shownAs(fields.get(field), text);
}

/** A computed value as it is kept, in words. */
function keyWords(field: string, kept: string, names: Names): string {
  switch (field) {
    case 'stage':
      return names.stage(kept);
    case 'pin':
    case 'territory':
      return names.territory(kept);
    case 'grade':
      return gradeWords(kept, names);
    default:
      return kept;
  }
}

const COMPUTED: Readonly<Record<string, string>> = {
  place: 'Where it is',
  stage: 'Stage',
  grade: 'Grade',
  territory: 'Territory',
  pin: 'Pinned to',
  status: 'Status',
  acceptance: 'Accepting it',
  task: 'Task',
  deal: 'Deal',
};

/** One line of history in words: what changed, from what to what, and the reason that was given. */
export function changeWords(
  { field, from, to, reason }: Pick<Change, 'field' | 'from' | 'to' | 'reason'>,
  wording: Wording,
): { what: string; from: string | null; to: string } {
  const now = to === null ? 'nothing' : shown(field, to, wording);
  return {
    what: COMPUTED[field] ?? wording.names.field(field),
    from: from === null ? null : shown(field, from, wording),
    to: reason === null ? now : `${now}: ${reason}`,
  };
}

/** Who or what made a change, in words. */
export function causeWords(
  { cause, by, charter, rule, field }: Pick<Change, 'cause' | 'by' | 'charter' | 'rule' | 'field'>,
  { names }: Wording,
): string {
  switch (cause) {
    case 'hand':
      return by;
    case 'form':
      return `form ${by}`;
    case 'api':
      return `key ${by}`;
    case 'csv':
      return `file, by ${by}`;
    case 'rule': {
      return `charter ${charter ?? ''}${rule === null ? '' : `, ${ruleWords(field, rule, names)}`}`;
    }
    case 'charter':
      return `charter ${charter ?? ''} came into force`;
    case 'relvik':
      return 'Relvik';
  }
}

/** The gate or route that made a change. */
function ruleWords(field: string, rule: string, names: Names): string {
  const isGate = field !== 'place' && (field !== 'task' || names.gate(rule) !== rule);
  return isGate ? `gate “${names.gate(rule)}”` : `route “${names.route(rule)}”`;
}
