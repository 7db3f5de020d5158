// `npm run schemas`: writes the JSON Schemas of docs from the readers of core.
import { writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';

const { CHARTER_SCHEMA, WORLD_SCHEMA } = createRequire(import.meta.url)('../packages/core/src/index.ts');

for (const [name, schema] of [
  ['charter', CHARTER_SCHEMA],
  ['world', WORLD_SCHEMA],
])
  writeFileSync(
    fileURLToPath(new URL(`../docs/schema/${name}.schema.json`, import.meta.url)),
    `${JSON.stringify(schema, null, 2)}\n`,
  );
