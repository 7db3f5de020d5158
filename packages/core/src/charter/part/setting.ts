import { key, object, oneOf, reader, text } from '../../document/read-json';
import { isTimeZone } from '../../record/day';
import { currencyDecimals } from '../../record/money';
import { ROUTED_KINDS } from '../../record/kind';
import { type Charter, CHARTER_FORMAT, CHARTER_VERSION } from '../charter';
import type { CharterPart } from './part';

export const FORMAT: CharterPart<'format'> = { read: oneOf([CHARTER_FORMAT]) };

export const VERSION: CharterPart<'version'> = {
  read: reader({ const: CHARTER_VERSION }, (value, at) => {
    if (value !== CHARTER_VERSION) at.say(`must be ${CHARTER_VERSION}, the version this Relvik reads`);
    return CHARTER_VERSION;
  }),
};

/** A draft has a name of its own: that alone changes nothing. */
export const NAME: CharterPart<'name'> = { read: text({ most: 120 }) };

export const TIME_ZONE: CharterPart<'timeZone'> = {
  read: text(),
  words: { members: { timeZone: 'time zone' } },
  check(zone, _, spot) {
    if (!isTimeZone(zone)) spot.say(`no such time zone: ${zone}`);
  },
  changes(notes, before, after) {
    notes.note('Time zone', before, after);
  },
};

export const BASE_CURRENCY: CharterPart<'baseCurrency'> = {
  read: text(),
  words: { members: { baseCurrency: 'base currency' } },
  check(currency, _, spot) {
    if (currencyDecimals(currency) === undefined) spot.say(`is no currency in use: ${currency}`);
  },
  changes(notes, before, after) {
    notes.note('Base currency', before, after);
  },
};

export const LAST_RESORT: CharterPart<'lastResort'> = {
  read: object<Charter['lastResort']>({ lead: key() }),
  words: { members: { lastResort: 'last resort', lead: 'for leads' } },
  bind(queues, { people }, spot) {
    for (const kind of ROUTED_KINDS)
      if (!people.queues.has(queues[kind])) spot.at(kind).say(`no such queue: ${queues[kind]}`);
    return {};
  },
  changes(notes, before, after, { names }) {
    notes.note('Last resort', names.queue(before.lead), names.queue(after.lead));
  },
};
