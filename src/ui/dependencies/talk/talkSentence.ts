import type { MatrixCell } from '@/core/flow/talkMatrix';

const ageWords = { now: 'talked lately', remembered: 'only remembered', rare: 'rare' } as const;

/** What one group says to another, in a sentence without its full stop. */
export function talkSentence(
  from: string,
  to: string,
  { conversations, share, age }: Pick<MatrixCell, 'conversations' | 'share' | 'age'>,
): string {
  const percent = share < 0.001 ? 'under 0.1' : (100 * share).toFixed(share < 0.1 ? 1 : 0);
  return `${from} asks ${to}: ${conversations.toLocaleString('en')} ${conversations === 1 ? 'conversation' : 'conversations'}, ${percent} % of the talk, ${ageWords[age]}`;
}
