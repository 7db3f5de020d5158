import { type Give, GIVEN_TO, type People } from '@relvik/contracts';
import type { Named } from '@relvik/core';

/** Where leads can be given, as a list in groups; each value says the kind and the key. */
export type GiveChoices = {
  readonly label: string;
  readonly items: { readonly label: string; readonly value: string }[];
}[];

/**
 * Everyone and everything to which leads can be given.
 *
 * @param without someone who gets none
 */
export function giveChoices(
  { people, teams, queues }: Pick<People, 'people' | 'teams' | 'queues'>,
  routes: readonly Named[],
  without: string | null = null,
): GiveChoices {
  const offered = (label: string, kind: Give['to'], items: readonly Named[]): GiveChoices =>
    items.length === 0
      ? []
      : [{ label, items: items.map(({ key, name }) => ({ label: name, value: `${kind}:${key}` })) }];
  return [
    { label: 'By rule', items: [{ label: 'whoever the routes choose now', value: 'again:' }] },
    ...offered(
      'People',
      'rep',
      people
        .filter(({ key, mayTakeLeads }) => mayTakeLeads && key !== without)
        .map(({ key, name, open, limit }) => ({
          ...{ key, name: `${name} · ${open} open${limit === null ? '' : ` of ${limit}`}` },
        })),
    ),
    ...offered('Teams', 'team', teams),
    ...offered(
      'Queues',
      'queue',
      queues.map(({ key, name }) => ({ key, name: `Queue ${name}` })),
    ),
    ...offered(
      'Routes',
      'route',
      routes.map(({ key, name }) => ({ key, name: `Route ${name}` })),
    ),
  ];
}

/** The target that a value of {@link giveChoices} stands for; null: none is chosen. */
export function givenTo(choice: string | null): Pick<Give, 'to' | 'key'> | null {
  const [kind, key = ''] = choice?.split(':') ?? [];
  const to = GIVEN_TO.find((one) => one === kind);
  return to === undefined ? null : { to, key: key === '' ? null : key };
}
