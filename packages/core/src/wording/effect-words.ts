import { TAGS } from '../record/field';
import type { GateChange, GateEffect } from '../gate/effect';
import type { DealRule } from '../deal/deal-rule';
import { showValue } from '../record/value';
import { taskRuleWords } from './task-words';
import { fieldValueWords, type Wording } from './subject-words';

/** An effect of a gate in words: "sets Region to Nordics", "tags it Pilot". */
export function effectWords(effect: GateEffect, wording: Wording): string {
  switch (effect.kind) {
    case 'task':
      return taskRuleWords(effect);
    case 'deal':
      return dealWords(effect, wording);
    case 'tag':
      return `tags it ${fieldValueWords(TAGS, effect.tag, wording)}`;
    case 'set': {
      const name = wording.names.field(effect.field);
      return effect.value.trim() === ''
        ? `empties ${name}`
        : `sets ${name} to ${fieldValueWords(effect.field, effect.value, wording)}`;
    }
  }
}

/** A value that a gate changed, in words: "Region is now Nordics". */
export function gateChangeWords(change: GateChange, wording: Wording): string {
  return fieldChangeWords(change, wording);
}

/** A value that a rule changed, in words. */
export function fieldChangeWords({ field, value }: Pick<GateChange, 'field' | 'value'>, wording: Wording): string {
  const name = wording.names.field(field);
  return value.kind === 'blank'
    ? `${name} is now empty`
    : `${name} is now ${fieldValueWords(field, showValue(value), wording)}`;
}

/** That a record ran in a circle through gates; null: it did not. */
export function loopWords(loop: readonly string[], { names }: Wording): string | null {
  if (loop.length === 0) return null;
  const through = [...new Set(loop)].map((gate) => `“${names.gate(gate)}”`).join(', ');
  return `It ran in a circle through ${through}: all that gates did is undone`;
}

/** A deal that a gate makes, in words: "makes a deal in Talks, expected to close in 30 days". */
export function dealWords(deal: DealRule, { names }: Pick<Wording, 'names'>): string {
  return `makes a deal in ${names.stage(deal.stage)}, expected to close in ${closeWords(deal)}`;
}

function closeWords({ days, measured }: DealRule): string {
  const fixed = `${days} ${days === 1 ? 'day' : 'days'}`;
  return measured ? `the usual time, else ${fixed}` : fixed;
}
