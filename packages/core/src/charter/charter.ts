import type { Gate } from '../gate/gate';
import type { Pipeline } from '../gate/pipeline';
import type { RoutedKind } from '../record/kind';
import type { Verdict } from '../grade/verdict';
import type { QueueKey } from '../record/keys';
import type { Stream } from '../route/stream';
import type { ScoreSet } from '../score/score-set';
import type { AddressFields, Territory } from '../territory/territory';

export const CHARTER_FORMAT = 'relvik-charter';
export const CHARTER_VERSION = 4;

/** Everything the admin decides, as one document. */
export interface Charter {
  readonly format: typeof CHARTER_FORMAT;
  readonly version: typeof CHARTER_VERSION;
  readonly name: string;
  /** IANA name: the calendar days of all decisions are those of this zone. */
  readonly timeZone: string;
  /** ISO 4217: amounts are compared in it. */
  readonly baseCurrency: string;
  readonly pipelines: readonly Pipeline[];
  readonly verdicts: readonly Verdict[];
  /** Of those for its kind the first that is on and admits a record grades it; the others give scores beside it. */
  readonly scoreSets: readonly ScoreSet[];
  readonly gates: readonly Gate[];
  readonly territories: AddressFields & { readonly list: readonly Territory[] };
  readonly streams: readonly Stream[];
  /** Where a record of each kind goes that no route takes. */
  readonly lastResort: Readonly<Record<RoutedKind, QueueKey>>;
}
