/** Why something of a device was not told, as what it means for whoever looks: words for it stand beside. */
export const gapCodes = ['silent', 'slow', 'changed', 'other'] as const;
export type GapCode = (typeof gapCodes)[number];

/** What a device did not tell in a survey, and why. */
export interface Gap {
  part: string;
  reason: string;
  /** `silent`: it stopped answering; `slow`: it answered when nobody waited any more, or took more than a device may; `changed`: what it answers has another form than is known. Not there in surveys of before */
  code?: GapCode;
}

/** What is said where a device stops answering while it is asked. */
export const stoppedWords = 'the device stopped answering';
export const notAskedWords = 'not asked: the device had stopped answering';
const silence = new Set([stoppedWords, notAskedWords]);

/** What is said of one that tells who it is and then drops every question: it is there, and stopped nothing. */
export const onlySystemWords =
  'the device told who it is, and answered nothing else: it stopped then, or its access rules show no more';
/** What is said where its answers come, but too late. @param ms how long one of them took */
export const tooSlowWords = (ms: number): string => `${tooSlow}: one answer came after ${(ms / 1000).toFixed(1)} s`;
const tooSlow = 'the device is too slow';

/** The meaning of a reason that the reader of an agent gave. */
export const codeOfReason = (reason: string): GapCode =>
  silence.has(reason) ? 'silent' : reason.startsWith(tooSlow) || reason.startsWith('left: it took') ? 'slow' : 'other';

/** What to do about what a device did not tell, by why it did not. */
export function remedyOfGap({ code, reason }: Pick<Gap, 'code' | 'reason'>): string {
  if (code === 'silent' || code === 'slow')
    return 'Ask again with a longer time limit, or look at the load of the device.';
  if (code === 'changed')
    return 'Its interface is another than the one that is known: see what it answers now, and what changed on it.';
  if (/cancelled/.test(reason)) return 'Run the survey again.';
  if (/\b(authorizationError|noAccess|forbidden)\b/i.test(reason))
    return 'Let the credential see more on the device: its access rules leave this out.';
  return 'What it answers there does not keep the standard: a newer firmware may, a longer time limit changes nothing.';
}
