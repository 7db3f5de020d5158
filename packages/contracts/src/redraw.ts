import { number, object, string } from 'yup';

/** Choices for open leads with an owner whose territory changed when a charter came into force. */
export const REDRAW_CHOICES = ['keep', 'all', 'untouched'] as const;
export type RedrawChoice = (typeof REDRAW_CHOICES)[number];

export interface RedrawnLead {
  readonly id: number;
  readonly name: string;
  readonly owner: string;
  /** Territories; null: open ground. */
  readonly from: string | null;
  readonly to: string | null;
  /** Whether its owner has neither called, mailed nor met them since it was assigned. */
  readonly untouched: boolean;
}

export interface Redraw {
  /** The number of the charter in force. */
  readonly charter: number;
  readonly leads: number;
  readonly untouched: number;
  /** The first of them. */
  readonly some: readonly RedrawnLead[];
  /** The choice made; null: none yet. */
  readonly chosen: {
    readonly choice: RedrawChoice;
    readonly handedOn: number;
    readonly by: string;
    readonly at: number;
  } | null;
}

export const redrawSchema = object({
  charter: number().integer().min(1).required(),
  choice: string().oneOf(REDRAW_CHOICES).required(),
}).exact();
export interface ChooseRedraw {
  readonly charter: number;
  readonly choice: RedrawChoice;
}
export const undoRedrawSchema = object({ charter: number().integer().min(1).required() }).exact();
