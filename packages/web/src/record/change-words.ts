import type { Change } from '@relvik/contracts';
import { countryName, type Wording } from '@relvik/core';

/** A place's code, such as `owner:ada`, in words. */
function placeCodeWords(code: string, { names }: Wording): string {
  const [kind = '', key = ''] = code.split(':');
  switch (kind) {
    case 'owner':
      return names.rep(key);
    case 'queue':
      return `queue ${names.queue(key)}`;
    case 'bay':
      return (
        {
          'nobody-free': 'the bay, nobody free',
          unjudged: 'the bay, can’t be judged',
          loop: 'the bay, runs in a circle',
        }[key] ?? 'the bay'
      );
    default:
      return 'not handed over';
  }
}

/** One line of history in words: what changed, from what to what. */
export function changeWords(
  { field, from, to }: Pick<Change, 'field' | 'from' | 'to'>,
  wording: Wording,
): { what: string; from: string | null; to: string } {
  const { names, fields } = wording;
  const show = (value: string): string => {
    switch (field) {
      case 'place':
        return placeCodeWords(value, wording);
      case 'stage':
        return names.stage(value);
      case 'territory':
        return names.territory(value);
      default:
        return fields.get(field)?.type === 'country' ? countryName(value) : value;
    }
  };
  const what =
    { place: 'Where it is', stage: 'Stage', grade: 'Grade', territory: 'Territory', status: 'Status' }[field] ??
    names.field(field);
  return { what, from: from === null ? null : show(from), to: to === null ? 'nothing' : show(to) };
}
