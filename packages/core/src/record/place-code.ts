import type { Place } from './record';

/** A place as one short text for the history: `owner:ada`, `queue:projects`, `bay:unjudged`, `not-handed-over`. */
export function placeCode(place: Place): string {
  switch (place.kind) {
    case 'owner':
      return `owner:${place.rep}`;
    case 'queue':
      return `queue:${place.queue}`;
    case 'bay':
      return `bay:${place.reason.why}`;
    case 'not-handed-over':
      return place.kind;
  }
}
