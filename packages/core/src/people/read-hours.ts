import { type ClockSpan, type DaysOff, minutesOfDay, type WeeklySpan, type WorkHours } from '../calendar/work-hours';
import { list, number, object, orElse, orNull, type Read, reader, refined, text } from '../document/read-json';
import type { Spot } from '../document/problem';
import { isDay, isTimeZone } from '../record/day';

const CLOCK = '^([01]\\d|2[0-4]):[0-5]\\d$';

const time: Read<string> = reader({ type: 'string', pattern: CLOCK }, (json, spot) => {
  if (typeof json === 'string' && minutesOfDay(json) !== null) return json;
  spot.say('must be a time of day written HH:MM, at most 24:00');
  return '00:00';
});

function checkSpan({ from, to }: ClockSpan, spot: Spot): void {
  if (from >= to) spot.at('to').say(`must be later than ${from}: hours over midnight are two spans`);
}

const weeklySpan: Read<WeeklySpan> = refined(
  object<WeeklySpan>({ day: number({ least: 1, most: 7 }), from: time, to: time }),
  checkSpan,
);

/** Hours as they are written: `{"timeZone": "Europe/Oslo", "weekly": [{"day": 1, "from": "08:00", "to": "16:00"}]}`. */
export const readWorkHours: Read<WorkHours> = refined(
  object<WorkHours>({ timeZone: text({ most: 64 }), weekly: orNull(list(weeklySpan, { most: 100 })) }, ['weekly']),
  ({ timeZone, weekly }, spot) => {
    if (!isTimeZone(timeZone)) spot.at('timeZone').say(`is no time zone: ${timeZone}`);
    (weekly ?? []).forEach((span, i) => {
      if ((weekly ?? []).slice(0, i).some((one) => one.day === span.day && one.from < span.to && span.from < one.to))
        spot.at('weekly').at(i).say('overlaps another span of that day');
    });
  },
);

/** Days off as they are written: both days included, and `hours` where not the whole of them is off. */
export const readDaysOff: Read<DaysOff> = refined(
  object<DaysOff>(
    {
      from: text(),
      to: text(),
      hours: orElse(orNull(refined(object<ClockSpan>({ from: time, to: time }), checkSpan)), null),
    },
    ['hours'],
  ),
  ({ from, to }, spot) => {
    for (const [end, day] of Object.entries({ from, to }))
      if (!isDay(day)) spot.at(end).say('is not a day written YYYY-MM-DD');
    if (isDay(from) && isDay(to) && to < from) spot.at('to').say(`must not be before ${from}`);
  },
);
