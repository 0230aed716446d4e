'use client';

import { scaleTime } from 'd3';
import { day, moment } from '../lib/format';

export interface Stay {
  device: string;
  port: string | null;
  from: string;
  last: string;
  holds: boolean;
}

const rowHeight = 22;
const barHeight = 10;
const axisHeight = 20;
const width = 520;

/** Stays at ports through time, a line for each port, over the surveys that saw them. */
export function PlaceTimeline({ label, stays, surveys }: { label: string; stays: Stay[]; surveys: string[] }) {
  const places = [...new Map(stays.map((stay) => [`${stay.device} ${stay.port ?? ''}`, stay])).keys()];
  const [first, last] = [surveys[0], surveys.at(-1)];
  if (!first || !last || places.length === 0) return null;
  const x = scaleTime([new Date(first), new Date(last)], [6, width - 6]);
  const at = (iso: string) => (first === last ? width - 6 : x(new Date(iso)));
  const height = places.length * rowHeight + axisHeight;
  const marks = surveys.length > 8 ? surveys.filter((_, nth) => nth % Math.ceil(surveys.length / 6) === 0) : surveys;
  return (
    <div className="placetime">
      <div aria-hidden>
        {places.map((place) => (
          <div key={place} className="mono" style={{ height: rowHeight }}>
            {place.trim() || 'port not known'}
          </div>
        ))}
      </div>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width={width}
        height={height}
        role="img"
        aria-label={`${label}: ${stays.map(({ device, port, from, last: until, holds }) => `${device} ${port ?? 'port not known'} from ${moment(from)} ${holds ? 'until now' : `to ${moment(until)}`}`).join('; ')}`}
      >
        {surveys.map((survey) => (
          <line
            key={survey}
            x1={at(survey)}
            x2={at(survey)}
            y1={0}
            y2={height - axisHeight}
            stroke="var(--line)"
            strokeWidth="1"
          />
        ))}
        {stays.map(({ device, port, from, last: until, holds }, nth) => {
          const y = places.indexOf(`${device} ${port ?? ''}`) * rowHeight + rowHeight / 2;
          const [left, right] = [at(from), at(until)];
          return (
            <g key={nth}>
              <title>{`${device} ${port ?? ''}: from ${moment(from)} ${holds ? 'until now' : `to ${moment(until)}`}`}</title>
              <rect
                x={left - 3}
                y={y - barHeight / 2}
                width={Math.max(6, right - left + 6)}
                height={barHeight}
                fill={holds ? 'var(--lagoon)' : 'none'}
                stroke={holds ? 'var(--lagoon)' : 'var(--ink-3)'}
                strokeWidth="1.4"
              />
            </g>
          );
        })}
        {marks.map((survey, nth) => (
          <text
            key={survey}
            x={at(survey)}
            y={height - 5}
            textAnchor={nth === 0 ? 'start' : survey === last ? 'end' : 'middle'}
            fontSize="10.5"
            fill="var(--ink-3)"
          >
            {day(survey)}
          </text>
        ))}
      </svg>
    </div>
  );
}
