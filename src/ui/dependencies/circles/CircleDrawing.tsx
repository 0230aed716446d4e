'use client';

import type { Circle } from '@/core/dependency/circle';
import { placedCircle } from './circlePlaces';

const [width, height] = [560, 260];
const most = 26;
const plate = { width: 118, height: 22 };

/** A circle as a small map: who is asked in the middle, who asks around; a line only where there was talk. The list beside it holds the same. */
export function CircleDrawing({ circle, onHost }: { circle: Circle; onHost: (id: string) => void }) {
  const { places, lines } = placedCircle(circle, width, height);
  if (places.length > most)
    return (
      <p className="quiet small">{circle.hosts.length} hosts are too many for a picture: the list holds them all.</p>
    );
  return (
    <svg
      className="circledrawing"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`${circle.hosts.length} hosts and the talk between them; the list below holds the same`}
    >
      {lines.map(({ from, to, count }) => {
        const [a, b] = [places[from], places[to]];
        return a && b ? (
          <line
            key={`${from} ${to}`}
            x1={a.x}
            y1={a.y}
            x2={b.x}
            y2={b.y}
            stroke="var(--lagoon)"
            strokeWidth={Math.min(5, 1 + Math.log2(count))}
            opacity={0.6}
          />
        ) : null;
      })}
      {places.map(({ id, name, count, x, y, isAsked }) => (
        <g key={id} onClick={() => count === 1 && onHost(id)} style={{ cursor: count === 1 ? 'pointer' : 'default' }}>
          <rect
            x={x - plate.width / 2}
            y={y - plate.height / 2}
            width={plate.width}
            height={plate.height}
            rx={4}
            fill={isAsked ? 'var(--sunken)' : 'var(--panel)'}
            stroke={isAsked ? 'var(--lagoon)' : 'var(--line)'}
          />
          <text x={x} y={y + 4} textAnchor="middle" fontSize={11} fill="var(--ink)">
            {name.length > 17 ? `${name.slice(0, 16)}…` : name}
          </text>
        </g>
      ))}
    </svg>
  );
}
