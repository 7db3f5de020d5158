import { type Redraw, redrawSchema, undoRedrawSchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { chooseRedraw, readRedraw, undoRedraw } from '../act/redraw';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';

/** Handing on thousands of leads may take this long. */
const PATIENCE = 180_000;

/** The choice for leads with an owner whose territory changed when a charter came into force. */
export function redrawEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/redraw',
      who: ADMIN,
      answer: json<Redraw>(),
      call: () => readRedraw(manager),
    }),
    endpoint({
      method: 'post',
      path: '/api/redraw',
      who: ADMIN,
      patience: PATIENCE,
      body: redrawSchema,
      answer: json<Redraw>(),
      async call({ caller, body, now }) {
        await chooseRedraw(source, body, { user: caller, at: now });
        return readRedraw(manager);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/redraw/undo',
      who: ADMIN,
      patience: PATIENCE,
      body: undoRedrawSchema,
      answer: json<Redraw>(),
      async call({ caller, body, now }) {
        await undoRedraw(source, body.charter, { user: caller, at: now });
        return readRedraw(manager);
      },
    }),
  ];
}
