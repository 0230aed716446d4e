'use client';

import { scaleSqrt } from 'd3';
import { useState } from 'react';
import type { MatrixCell, TalkMatrix } from '@/core/flow/talkMatrix';
import { talkSentence } from './talkSentence';

export type MatrixBy = 'site' | 'application' | 'circle' | 'network' | 'kind' | 'group' | 'host';
export interface Matrix extends TalkMatrix {
  by: MatrixBy;
  conversations: number;
  /** by name: as a filter at either end, where there is one */
  terms: Record<string, { client: string; server: string }>;
}

const cell = 19;
const longest = 20;
const short = (name: string) => (name.length > longest ? `${name.slice(0, longest - 1)}…` : name);

/** Rows ask, columns are asked. A square is the share of talk: full where it talked lately, hollow where it is only remembered, dotted where it is rare. What a cell says stands below; a press narrows the table. */
export function TalkMatrixDrawing({
  matrix: { names, cells },
  filterOf,
  onFilter,
}: {
  matrix: Matrix;
  filterOf: (from: string, to: string) => string | null;
  onFilter: (where: string) => void;
}) {
  const [shown, setShown] = useState<MatrixCell | null>(null);
  const size = scaleSqrt()
    .domain([0, Math.max(...cells.map(({ share }) => share), 0.0001)])
    .range([4, cell - 3]);
  // as much room for names as the longest needs
  const letters = Math.max(...names.map((name) => short(name).length));
  const [left, top] = [18 + letters * 6.4, 16 + letters * 5];
  const [width, height] = [left + names.length * cell + 16 + letters * 4, top + names.length * cell + 4];
  const sentence = (one: MatrixCell) => talkSentence(names[one.row] ?? '', names[one.column] ?? '', one);
  return (
    <figure className="matrix">
      <svg width={width} height={height} role="group" aria-label="Who asks whom; rows ask, columns are asked">
        {names.map((name, at) => (
          <g key={name} fontSize={11} fill="var(--ink-2)">
            <text x={left - 6} y={top + at * cell + cell / 2 + 4} textAnchor="end">
              {short(name)}
            </text>
            <text transform={`translate(${left + at * cell + cell / 2 + 4},${top - 6}) rotate(-55)`}>
              {short(name)}
            </text>
            <line
              x1={left}
              x2={left + names.length * cell}
              y1={top + at * cell}
              y2={top + at * cell}
              stroke="var(--line)"
              strokeWidth={0.5}
            />
          </g>
        ))}
        {cells.map((one) => {
          const side = size(one.share);
          const [x, y] = [left + one.column * cell + (cell - side) / 2, top + one.row * cell + (cell - side) / 2];
          const where = filterOf(names[one.row] ?? '', names[one.column] ?? '');
          const narrow = () => where !== null && onFilter(where);
          return (
            <g
              key={`${one.row} ${one.column}`}
              role="button"
              tabIndex={0}
              aria-label={sentence(one)}
              onPointerEnter={() => setShown(one)}
              onFocus={() => setShown(one)}
              onClick={narrow}
              onKeyDown={({ key }) => {
                if (key === 'Enter' || key === ' ') narrow();
              }}
              style={{ cursor: where === null ? 'default' : 'pointer' }}
            >
              <rect
                x={left + one.column * cell}
                y={top + one.row * cell}
                width={cell}
                height={cell}
                fill="transparent"
              />
              <rect
                x={x}
                y={y}
                width={side}
                height={side}
                fill={one.age === 'now' ? 'var(--lagoon)' : 'transparent'}
                stroke="var(--lagoon)"
                strokeWidth={1.2}
                {...(one.age === 'rare' && { strokeDasharray: '1.5 2' })}
              />
            </g>
          );
        })}
      </svg>
      <figcaption className="small">
        {shown ? (
          `${sentence(shown)}.`
        ) : (
          <span className="quiet">
            Rows ask, columns are asked. Full: talked lately; hollow: only remembered; dotted: rare.
          </span>
        )}
      </figcaption>
    </figure>
  );
}
