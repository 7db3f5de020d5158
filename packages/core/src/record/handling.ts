/**
 * What is done with a record that comes in or is edited. `decide`: all rules are asked. `score`: it is scored and graded, and
 * stays in its stage and with whom it is. `keep`: a known record gets its values and no rule is asked; a new one is scored.
 */
export const HANDLINGS = ['decide', 'score', 'keep'] as const;
export type Handling = (typeof HANDLINGS)[number];
