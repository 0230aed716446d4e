import type { Course } from '@/core/firmware/doing/course';

const phaseWords: Readonly<Record<Course['phase'], string>> = {
  checking: 'is looked at',
  copying: 'takes its image',
  copied: 'has its image',
  starting: 'is told to restart',
  away: 'is away',
  comparing: 'is back, and held against what it was',
  ended: '',
};

/** How a device stands, in words. */
export function courseWords(course: Course, hasBegun: boolean): string {
  const { phase, ending, start, window, reason } = course;
  if (ending !== null) return reason ? `${ending}: ${reason}` : ending;
  if (!hasBegun) return 'has not begun';
  const back = course.isOnTheWayBack ? `on the way back to ${course.to}: ` : '';
  if (phase === 'copied' && start === 'restart') return `${back}has its image, and runs it after its next restart`;
  if (phase === 'copied' && window)
    return `${back}has its image, and waits for ${new Date(window.from).toISOString().slice(0, 16).replace('T', ' ')} UTC`;
  return `${back}${phaseWords[phase]}`;
}
