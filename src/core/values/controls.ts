/** C0, DEL, C1, and the separators of lines and paragraphs. */
const controls = /[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g;
/** Marks that change the direction of what stands behind them (Unicode Standard Annex 9): a name could show as another one. */
const directions = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]+/g;

/** Text of a foreign source as it may stand on a page: controls become blanks, marks of direction go, blanks around it go. */
export function withoutControls(text: string): string {
  return text.replace(directions, '').replace(controls, ' ').trim();
}
