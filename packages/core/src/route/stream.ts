import type { Schedule } from '../calendar/schedule';
import type { Condition } from '../condition/condition';
import type { RoutedKind } from '../record/kind';
import type { StageKey } from '../record/keys';
import type { AgainWhen } from './again';
import type { NobodyFree, Route } from './route';

/** Routes with one entry condition, which act on entering one of the stages. */
export interface Stream {
  readonly key: string;
  readonly name: string;
  /** The kind of record that it is for. */
  readonly of: RoutedKind;
  readonly on: boolean;
  readonly entering: readonly StageKey[];
  readonly when: Condition;
  /** Events on which records that a route has given away go through it again. Missing: none; they stay. */
  readonly again?: readonly AgainWhen[];
  /** Missing: records wait. */
  readonly nobodyFree?: NobodyFree;
  /** When it runs: over what stands in its stages and nobody has, and over what its routes gave away where it asks again then. Missing: never. */
  readonly schedule?: Schedule;
  /** Its routes give away only when it runs; what they match waits in the bay until then. Missing: no. */
  readonly onlyOnSchedule?: boolean;
  /** Owners are asked to accept what it gives them; who gives a record back is passed over from then on. Missing: they are not. */
  readonly accept?: boolean;
  readonly routes: readonly Route[];
}
