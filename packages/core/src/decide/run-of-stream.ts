import type { ReadyCharter } from '../charter/ready-charter';

/**
 * The charter as a run of one of its streams decides by it: that stream gives away now, others that do so only by their schedules
 * still wait for their own runs.
 *
 * @param stream its key
 */
export function duringRun(ready: ReadyCharter, stream: string): ReadyCharter {
  const { lead } = ready.rules;
  const streams = lead.streams.map((one) => (one.key === stream ? { ...one, onlyOnSchedule: false } : one));
  return { ...ready, rules: { ...ready.rules, lead: { ...lead, streams } } };
}
