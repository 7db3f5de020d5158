import type { TextParts } from '@relvik/core';

/** A pattern for LIKE; the signs of patterns in the text stand for themselves. */
export function patternOf(part: TextParts['part'], text: string): string {
  const plain = text.replace(/[\\%_]/g, '\\$&');
  switch (part) {
    case 'contains':
      return `%${plain}%`;
    case 'starts-with':
      return `${plain}%`;
    case 'ends-with':
      return `%${plain}`;
  }
}
