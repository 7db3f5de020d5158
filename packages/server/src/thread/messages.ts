import type { ProblemDocument } from '@relvik/contracts';

/** Questions to a thread, each with a number of its own. */
export type ToThread<Question> = readonly { readonly id: number; readonly question: Question }[];

/** A problem is the asker's; words alone are ours; away: nobody knows how it ended. */
export type Outcome<Answer> =
  | { readonly ok: true; readonly answer: Answer }
  | { readonly ok: false; readonly problem: ProblemDocument | null; readonly why: string; readonly away: boolean };

export type FromThread<Answer> = readonly { readonly id: number; readonly outcome: Outcome<Answer> }[];
