import type { Instant } from '../record/keys';
import { HOUR } from '../score/fade';

/** The activities of one kind over all records: those of record i are `at[starts[i]]` up to `at[starts[i + 1]]`, newest first. */
export interface Events {
  readonly starts: Uint32Array;
  readonly at: Float64Array;
}

/** The same with ages in whole hours at one instant; what comes after the instant is left out. */
export interface AgedEvents {
  readonly starts: Uint32Array;
  readonly hours: Uint32Array;
  /** Records that have any. */
  readonly records: Uint32Array;
  readonly oldest: number;
}

export function ageEvents({ starts, at }: Events, asOf: Instant): AgedEvents {
  const size = starts.length - 1;
  const aged = new Uint32Array(size + 1);
  const hours = new Uint32Array(at.length);
  const records = new Uint32Array(size);
  let kept = 0;
  let having = 0;
  let oldest = 0;
  for (let i = 0; i < size; i += 1) {
    aged[i] = kept;
    const end = starts[i + 1] as number;
    for (let k = starts[i] as number; k < end; k += 1) {
      const age = asOf - (at[k] as number);
      if (age < 0) continue;
      const whole = Math.floor(age / HOUR);
      hours[kept] = whole;
      kept += 1;
      if (whole > oldest) oldest = whole;
    }
    if (kept > (aged[i] as number)) {
      records[having] = i;
      having += 1;
    }
  }
  aged[size] = kept;
  return { starts: aged, hours: hours.subarray(0, kept), records: records.subarray(0, having), oldest };
}
