/** Punctuation in the order of the Unicode collation, below digits and letters. */
const punctuation = new Map(
  [...' _-,;:!?.\'"()[]{}@*/\\&#%`^+<=>|~$'].map((letter, at) => [letter, String.fromCharCode(at + 1)]),
);
const longestNumber = 40;

/**
 * A text whose code units order as `compareNaturally` orders the text itself: for sorting very many, since a key is made once and compared at no cost.
 * Letters without regard to case and accents, numbers by their value.
 */
export function naturalKey(text: string): string {
  const plain = /^[\x20-\x7e]*$/.test(text) ? text : text.normalize('NFD').replace(/\p{M}/gu, '');
  return plain.toLowerCase().replace(/\d+|[^a-z\d]/g, (part) => {
    const digit = part.charCodeAt(0);
    if (digit < 48 || digit > 57) return punctuation.get(part) ?? part;
    const number = part.replace(/^0+(?=\d)/, '');
    return String.fromCharCode(48 + Math.min(number.length, longestNumber)) + number;
  });
}
