'use client';

import { extent, line, scaleLinear, scaleTime } from 'd3';
import { truthUnit } from '@/core/mib/sensor';
import { readingWords } from '@/core/values/readingWords';
import { moment } from '../lib/format';

export interface ReadingSeries {
  name: string;
  unit: string;
  above: number | null;
  below: number | null;
  points: { at: string; value: number }[];
}

const width = 150;
const height = 34;
const margin = 4;

/** One value over time: its line, the bounds it should keep, and the newest value written out. */
export function ReadingLine({ series: { name, unit, above, below, points } }: { series: ReadingSeries }) {
  const newest = points.at(-1);
  if (!newest) return null;
  const [low = 0, high = 1] = extent([
    ...points.map(({ value }) => value),
    ...(above === null ? [] : [above]),
    ...(below === null ? [] : [below]),
  ]);
  const y = scaleLinear([low === high ? low - 1 : low, low === high ? high + 1 : high], [height - margin, margin]);
  const [first, last] = extent(points, ({ at }) => new Date(at));
  const x = scaleTime([first ?? new Date(0), last ?? new Date(0)], [margin, width - margin]);
  const placed = points.map(
    ({ at, value }) => [points.length === 1 ? width - margin : x(new Date(at)), y(value)] as [number, number],
  );
  const beyond = (above !== null && newest.value > above) || (below !== null && newest.value < below);
  const values = points.map(({ value }) => value);
  const range =
    unit === truthUnit
      ? `now ${readingWords(newest.value, unit)}`
      : `lowest ${Math.min(...values)}, highest ${Math.max(...values)} ${unit}`;
  const words = `${name}: ${points.length} values from ${moment(points[0]?.at ?? '')} to ${moment(newest.at)}, ${range}`;
  return (
    <tr>
      <td>{name}</td>
      <td>
        <svg width={width} height={height} role="img" aria-label={words}>
          <title>{words}</title>
          {[above, below].map(
            (bound, at) =>
              bound !== null && (
                <line
                  key={at}
                  x1={margin}
                  x2={width - margin}
                  y1={y(bound)}
                  y2={y(bound)}
                  stroke="var(--caution)"
                  strokeDasharray="2 3"
                />
              ),
          )}
          <path d={line()(placed) ?? ''} fill="none" stroke="var(--lagoon)" strokeWidth="1.5" />
          <circle
            cx={placed.at(-1)?.[0]}
            cy={placed.at(-1)?.[1]}
            r="2.5"
            fill={beyond ? 'var(--bad)' : 'var(--lagoon)'}
          />
        </svg>
      </td>
      <td className="mono" style={{ textAlign: 'right' }}>
        {readingWords(newest.value, unit)}
        {beyond && (
          <div className="small">
            {above !== null && newest.value > above ? `above ${above}` : `below ${String(below)}`}
          </div>
        )}
      </td>
    </tr>
  );
}
