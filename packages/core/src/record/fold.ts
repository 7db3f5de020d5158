/** Only ASCII that is printed. */
const PLAIN = /^[ -~]*$/;

function foldCodePoint(char: string): string {
  // Dotless ı is a letter of its own: upper-casing would make it an i.
  if (char === 'ı') return char;
  // Lower, upper, lower: ẞ → ß → SS → ss; a code point alone has no final sigma, so ς → Σ → σ.
  return char.toLowerCase().toUpperCase().toLowerCase();
}

/**
 * The form in which two texts are compared: NFKC, without case, trimmed.
 *
 * "Straße", "STRASSE" and " straße " fold to "strasse"; Σ, σ and ς to σ; the ligature ﬁ to "fi"; İ to "i̇".
 * Folding twice is the same as folding once. Follows Unicode's toNFKC_Casefold for letters
 * (The Unicode Standard, 3.13), without removing default-ignorable characters.
 */
export function fold(text: string): string {
  // Most texts are plain: for them all of it comes to this.
  if (PLAIN.test(text)) return text.toLowerCase().trim();
  let folded = '';
  for (const char of text.normalize('NFKD')) folded += foldCodePoint(char);
  return folded.normalize('NFKC').trim();
}
