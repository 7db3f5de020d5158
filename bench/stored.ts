import { ROUNDS } from './measure';
import { storedFigures } from './stored.bench';

/** A process of its own, as the server is one: no records of other measurements are in its memory. */
storedFigures(100_000, ROUNDS).then(
  (figures) => {
    process.send?.(figures);
    process.disconnect();
  },
  (error: unknown) => {
    console.error(error);
    process.exit(1);
  },
);
