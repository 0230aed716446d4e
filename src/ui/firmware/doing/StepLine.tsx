import type { Course, Phase } from '@/core/firmware/doing/course';

const steps: { of: readonly Phase[]; words: string }[] = [
  { of: ['checking'], words: 'look' },
  { of: ['copying'], words: 'copy' },
  { of: ['copied'], words: 'there' },
  { of: ['starting', 'away'], words: 'restart' },
  { of: ['comparing'], words: 'compare' },
];
const [width, height] = [190, 26];
const gap = width / steps.length;

/** How far a device is, as a line of its steps: what is over is full, what it is at stands out, where it ended is marked. */
export function StepLine({ course, hasBegun }: { course: Course; hasBegun: boolean }) {
  const { phase, ending } = course;
  const at = steps.findIndex(({ of }) => of.includes(phase));
  const isWell = ending === 'done';
  return (
    <svg width={width} height={height} aria-hidden="true" className="stepline">
      <line x1={gap / 2} x2={width - gap / 2} y1={7} y2={7} stroke="var(--line)" strokeWidth={2} />
      {steps.map(({ words }, nth) => {
        const isOver = ending !== null ? isWell || nth < endedAt(course) : hasBegun && nth < at;
        const isHere = ending === null ? hasBegun && nth === at : !isWell && nth === endedAt(course);
        const colour = isHere
          ? ending === null
            ? 'var(--ember)'
            : 'var(--bad)'
          : isOver
            ? 'var(--lagoon)'
            : 'var(--line)';
        return (
          <g key={words} transform={`translate(${gap * (nth + 0.5)},7)`}>
            {isHere && ending === null ? (
              <circle r={5} fill="var(--panel)" stroke={colour} strokeWidth={3} />
            ) : (
              <rect x={-4} y={-4} width={8} height={8} fill={colour} />
            )}
            <text y={17} textAnchor="middle" fontSize={9.5} fill={isHere ? 'var(--ink)' : 'var(--ink-2)'}>
              {words}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** The step at which one ended that did not go well. */
function endedAt({ ending, restartSent, copySent }: Course): number {
  if (ending === 'kept' || ending === 'rolled back') return 4;
  if (restartSent !== null || ending === 'failed' || ending === 'lost') return 3;
  return copySent === null ? 0 : 1;
}
