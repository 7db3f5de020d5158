import type { FullConfig } from '@playwright/test';
import type { People } from '../packages/contracts/src/people';
import { apiOf } from './people';

/** Lets the people of the demo work at any hour: the tests must find someone free whenever they run. Hours have a test of their own. */
export default async function aroundTheClock({ projects }: FullConfig): Promise<void> {
  const { api, headers } = await apiOf(projects[0]?.use.baseURL ?? '', 'admin');
  const { people } = (await (await api.get('/api/people')).json()) as People;
  for (const { key, mayTakeLeads, limit, whyNot } of people) {
    const data = { mayTakeLeads, limit, whyNot, hours: null, holidaysOf: null, daysOff: [] };
    const changed = await api.patch(`/api/people/${key}`, { data, headers });
    if (!changed.ok()) throw new Error(`${key}: ${await changed.text()}`);
  }
  await api.dispose();
}
