/**
 * How far rules are applied to a record that comes in or is edited. `decide`: all are. `score`: it is scored and graded, and
 * keeps its stage and place. `keep`: of a known record only values change; a new one is handled as by `score`.
 */
export const HANDLINGS = ['decide', 'score', 'keep'] as const;
export type Handling = (typeof HANDLINGS)[number];
