import type { Decision } from '../decide/decision';
import { isByHand } from '../route/by-hand';
import type { Names } from '../wording/names';
import { destinationWords } from '../wording/route-words';

/** Where routes lead a record, or a hand, and whether it stays all the same; null: it was not routed, or what stopped that is told elsewhere. */
export function routingWords(
  { routing, kept, occasion }: Pick<Decision, 'routing' | 'kept' | 'occasion'>,
  names: Names,
): string | null {
  if (routing === null) return null;
  const { match, stays = false } = routing;
  switch (match.kind) {
    case 'none':
      return stays || kept === true ? 'No route matches: it stays where it is' : 'No route matches: the last resort';
    case 'unjudged':
      return stays || kept === true ? 'It stays where it is' : null;
    case 'matched': {
      const to = `${destinationWords(match.to, names)}${match.asOwner === true ? ', the company’s owner' : ''}`;
      const given = isByHand(match.route)
        ? `given by hand to ${to}`
        : `given by hand to route “${names.route(match.route)}”, which leads to ${to}`;
      const leads = occasion === 'given' ? given : `leads to ${to}`;
      if (stays) return `${leads}: it has its place there already, and stays`;
      return kept === true ? `${leads}, where nobody is free: it stays where it is` : leads;
    }
  }
}
