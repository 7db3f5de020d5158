import { correctRateSchema, newRateSchema, type RateGiven, type RateList, ratePlaceSchema } from '@relvik/contracts';
import { showRate } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { giveRate } from '../act/give-rate';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { readRates } from '../store/governing';
import type { WatershedCounts } from '../watershed/watershed-counts';

async function rateList(manager: EntityManager): Promise<RateList> {
  const rates = await readRates(manager);
  return {
    reference: rates.reference,
    rates: rates.all().map(({ currency, from, micro }) => ({ currency, from, rate: showRate(micro) })),
  };
}

/** Rates of currencies: outside the charter, effective at once. */
export function rateEndpoints(source: DataSource, counts: Pick<WatershedCounts, 'unjudgedNow'>): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/rates',
      who: ADMIN,
      answer: json<RateList>(),
      call: () => rateList(manager),
    }),
    endpoint({
      method: 'post',
      path: '/api/rates',
      who: ADMIN,
      patience: 180_000,
      body: newRateSchema,
      answer: json<RateGiven>(201),
      async call({ body, now }) {
        const due = await giveRate(source, body, 'new', now);
        return { due, rates: await rateList(manager), rows: await counts.unjudgedNow() };
      },
    }),
    endpoint({
      method: 'put',
      path: '/api/rates/:currency/:from',
      who: ADMIN,
      patience: 180_000,
      params: ratePlaceSchema,
      body: correctRateSchema,
      answer: json<RateGiven>(),
      async call({ params, body, now }) {
        const due = await giveRate(source, { ...params, ...body }, 'correction', now);
        return { due, rates: await rateList(manager), rows: await counts.unjudgedNow() };
      },
    }),
  ];
}
