'use client';

import { verdicts } from '@/core/firmware/readiness';
import { term } from '@/core/things/near';
import { useThingPage } from '../../components/table/thingPages';
import { leastForWords, standingLevels, standingPlaces, type StandingPart } from './standingPlaces';

const [width, least, most, perOne] = [840, 120, 360, 9];
const letterWidth = 6.4;

/** Verdict, family and site in one picture: a press shows those it stands for. */
export function StandingChart({
  request,
  colours,
  onChoose,
}: {
  request: { survey: string | null; where: string };
  colours: Readonly<Record<string, string>>;
  onChoose: (where: string) => void;
}) {
  const { data } = useThingPage('readiness', { ...request, page: 1, size: 1, group: [...standingLevels] });
  if (!data?.groups || data.total === 0) return null;
  const height = Math.max(least, Math.min(most, data.total * perOne));
  const parts = standingPlaces(data.groups, verdicts, width, height);
  return (
    <svg className="standingchart" width={width} height={height} role="group" aria-label="By verdict, family and site">
      {parts.map((part) => (
        <Part
          key={part.path.join('\t')}
          part={part}
          colour={colours[part.path[0] ?? ''] ?? 'var(--idle)'}
          onChoose={onChoose}
        />
      ))}
    </svg>
  );
}

function Part({
  part: { path, name, count, depth, x, y, width: wide, height },
  colour,
  onChoose,
}: {
  part: StandingPart;
  colour: string;
  onChoose: (where: string) => void;
}) {
  const where = path.map((value, level) => term(standingLevels[level] ?? 'site', value)).join(' ');
  const words = `${name || 'none'} ${count}`;
  const choose = () => onChoose(where);
  const letters = Math.floor((wide - 12) / letterWidth);
  return (
    <>
      <g
        className="rung"
        role="button"
        tabIndex={0}
        aria-label={path.map((one) => one || 'none').join(', ') + `: ${count}`}
        onClick={choose}
        onKeyDown={({ key }) => {
          if (key === 'Enter' || key === ' ') choose();
        }}
      >
        <rect
          x={x}
          y={y}
          width={Math.max(0, wide - 1)}
          height={Math.max(0.5, height)}
          fill="var(--panel)"
          stroke="var(--line)"
        />
        <rect x={x} y={y} width={depth === 1 ? 6 : 3} height={Math.max(0.5, height)} fill={colour} />
      </g>
      {height >= leastForWords && (
        <text
          aria-hidden
          x={x + 10}
          y={y + Math.min(height / 2 + 4, 16)}
          fontSize={11}
          fill="var(--ink)"
          pointerEvents="none"
        >
          {words.length > letters ? `${words.slice(0, Math.max(0, letters - 1))}…` : words}
        </text>
      )}
    </>
  );
}
