export const TEXT_PARTS = ['contains', 'starts-with', 'ends-with'] as const;
export type TextPart = (typeof TEXT_PARTS)[number];

/** Parts that a text may have, folded: one of them is enough. */
export interface TextParts {
  readonly part: TextPart;
  readonly folded: readonly string[];
}

/** Whether a folded text has one of the parts asked for. */
export function hasPart({ part, folded }: TextParts, text: string): boolean {
  switch (part) {
    case 'contains':
      return folded.some((one) => text.includes(one));
    case 'starts-with':
      return folded.some((one) => text.startsWith(one));
    case 'ends-with':
      return folded.some((one) => text.endsWith(one));
  }
}
