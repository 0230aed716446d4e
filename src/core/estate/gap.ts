/** Why something of a device was not told, as what it means for whoever looks: words for it stand beside. */
export const gapCodes = ['silent', 'changed', 'other'] as const;
export type GapCode = (typeof gapCodes)[number];

/** What a device did not tell in a survey, and why. */
export interface Gap {
  part: string;
  reason: string;
  /** `silent`: it stopped answering; `changed`: what it answers has another form than is known. Not there in surveys of before */
  code?: GapCode;
}

/** What is said where a device stops answering while it is asked. */
export const stoppedWords = 'the device stopped answering';
export const notAskedWords = 'not asked: the device had stopped answering';
const silence = new Set([stoppedWords, notAskedWords]);

/** The meaning of a reason that the reader of an agent gave. */
export const codeOfReason = (reason: string): GapCode => (silence.has(reason) ? 'silent' : 'other');
