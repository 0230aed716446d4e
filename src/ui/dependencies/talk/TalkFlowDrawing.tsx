'use client';

import { linkHorizontal } from 'd3';
import { useMemo, useState } from 'react';
import { flowPlaces, type FlowBand } from './flowPlaces';
import { talkSentence } from './talkSentence';
import type { Matrix } from './TalkMatrixDrawing';

const letterWidth = 6.6;
const longest = 26;
const [thick, between] = [8, 360];
const short = (name: string) => (name.length > longest ? `${name.slice(0, longest - 1)}…` : name);
const line = linkHorizontal<unknown, [number, number]>();

/** Who asks, at the left, and who is asked, at the right; bands as wide as their share of talk. What a band says stands below; a press narrows the table. */
export function TalkFlowDrawing({
  matrix,
  filterOf,
  onFilter,
}: {
  matrix: Matrix;
  filterOf: (from: string, to: string) => string | null;
  onFilter: (where: string) => void;
}) {
  const { asks, asked, bands, height } = useMemo(() => flowPlaces(matrix), [matrix]);
  const [shown, setShown] = useState<FlowBand | null>(null);
  const room = (names: readonly { name: string }[]) =>
    14 + letterWidth * Math.max(...names.map(({ name }) => short(name).length), 4);
  const [left, right] = [room(asks), room(asked)];
  const ends = [left + thick, left + thick + between] as const;
  const sentence = ({ from, to, cell }: FlowBand) => talkSentence(from.name, to.name, cell);
  return (
    <figure className="matrix">
      <svg
        width={left + between + right + 2 * thick}
        height={height + 20}
        role="group"
        aria-label="Who asks, at the left; who is asked, at the right"
      >
        <g transform="translate(0,16)">
          <text x={left} y={-5} textAnchor="end" fontSize={11} fill="var(--ink-3)">
            asks
          </text>
          <text x={ends[1] + thick} y={-5} fontSize={11} fill="var(--ink-3)">
            is asked
          </text>
          {bands.map((band) => {
            const where = filterOf(band.from.name, band.to.name);
            const narrow = () => where !== null && onFilter(where);
            return (
              <path
                key={`${band.from.name}\n${band.to.name}`}
                className="band"
                role="button"
                tabIndex={0}
                aria-label={sentence(band)}
                d={line({ source: [ends[0], band.y0], target: [ends[1], band.y1] }) ?? ''}
                fill="none"
                stroke="var(--lagoon)"
                strokeWidth={band.width}
                strokeOpacity={shown === band ? 0.85 : band.cell.age === 'now' ? 0.4 : 0.22}
                {...(band.cell.age === 'rare' && { strokeDasharray: '2 3' })}
                style={{ cursor: where === null ? 'default' : 'pointer' }}
                onPointerEnter={() => setShown(band)}
                onFocus={() => setShown(band)}
                onClick={narrow}
                onKeyDown={({ key }) => {
                  if (key === 'Enter' || key === ' ') narrow();
                }}
              />
            );
          })}
          {(
            [
              [asks, left, left - 6, 'end'],
              [asked, ends[1], ends[1] + thick + 6, 'start'],
            ] as const
          ).map(([nodes, x, text, anchor]) =>
            nodes.map(({ name, y, tall }) => (
              <g key={`${anchor} ${name}`}>
                <rect x={x} y={y} width={thick} height={tall} fill="var(--ink-3)" />
                <text x={text} y={y + tall / 2 + 4} textAnchor={anchor} fontSize={11} fill="var(--ink-2)">
                  {short(name)}
                </text>
              </g>
            )),
          )}
        </g>
      </svg>
      <figcaption className="small">
        {shown ? (
          `${sentence(shown)}.`
        ) : (
          <span className="quiet">
            As wide as the share of talk. Strong: talked lately; pale: only remembered; dotted: rare.
          </span>
        )}
      </figcaption>
    </figure>
  );
}
