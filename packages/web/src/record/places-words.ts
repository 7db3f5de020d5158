import type { Given } from '@relvik/contracts';
import type { Names } from '@relvik/core';

/** "Ada Lindqvist 3, queue Projects 1". */
export function placesWords(places: Given['places'], names: Names, several = true): string {
  return places
    .map(({ place, leads }) => {
      const count = several ? ` ${leads}` : '';
      switch (place.kind) {
        case 'owner':
          return `${names.rep(place.rep)}${count}`;
        case 'queue':
          return `queue ${names.queue(place.queue)}${count}`;
        case 'bay':
          return `the bay${count}`;
        case 'not-handed-over':
          return `nobody${count}`;
      }
    })
    .join(', ');
}
