// Properties are tried with one seed in `npm test`, so that a run never fails by chance; `npm run explore` gives others.
const fc = require('fast-check');

fc.configureGlobal({ seed: Number(process.env.RELVIK_SEED ?? 20260301) });
