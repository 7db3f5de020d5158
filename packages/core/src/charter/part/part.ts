import type { Condition } from '../../condition/condition';
import type { RulePlace, Scope } from '../../condition/scope';
import type { Spot } from '../../document/problem';
import type { Read } from '../../document/read-json';
import type { Surroundings } from '../../people/world';
import type { RecordKind } from '../../record/kind';
import type { ChangeNotes } from '../../wording/change-notes';
import type { NameLists } from '../../wording/names';
import type { Wording } from '../../wording/subject-words';
import type { Charter } from '../charter';
import type { ReadyParts } from '../ready-charter';

/** The surroundings that a part is bound to. */
export interface Around {
  readonly people: Surroundings;
  /** The subjects that conditions over records of a kind may ask about, by where they stand. */
  scope(place: RulePlace, kind: RecordKind): Scope;
}

/** A condition of a charter, and the kind of record that it is asked of. */
export interface PlacedCondition {
  readonly of: RecordKind;
  readonly condition: Condition;
}

/** Names of the members of a part, for the place of a problem or a clash. */
export interface PlaceWords {
  /** One element of each list: "score set", "signal". */
  readonly items?: Readonly<Record<string, string>>;
  /** Members that are called otherwise than in JSON; null: they only lead on. */
  readonly members?: Readonly<Record<string, string | null>>;
}

/** One part of a charter: everything that has to be known of it, so that a new part is a file and a row. */
export interface CharterPart<K extends keyof Charter> {
  /** Its form; the JSON Schema comes from it. */
  readonly read: Read<Charter[K]>;
  readonly words?: PlaceWords;
  /** Keys, references to other parts, and sizes that belong together. */
  check?(value: Charter[K], charter: Charter, spot: Spot): void;
  /** Binds it to the fields and people that it names; says at its spot what is not there. */
  bind?(value: Charter[K], around: Around, spot: Spot, charter: Charter): Partial<ReadyParts>;
  /** The conditions in it. */
  conditions?(value: Charter[K], charter: Charter): Iterable<PlacedCondition>;
  /** The names in it. */
  names?(value: Charter[K]): Partial<NameLists>;
  /** Notes what differs from another charter's. */
  changes?(notes: ChangeNotes, before: Charter[K], after: Charter[K], wording: Wording): void;
}
