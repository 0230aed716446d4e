'use client';

import { format } from 'date-fns';
import { dashHeight, dashStep, dashWidth, isGone, ladderHeight, ladderPlaces, lineAt, rungWords } from './ladderPlaces';
import type { Ladder, PlacedRung } from './ladderPlaces';

/** The releases of a family on one line, oldest at the left: what runs stands on its release as a stack of dashes, hollow ones for the moment before. */
export function LadderDrawing({
  ladder,
  width,
  onChoose,
}: {
  ladder: Ladder;
  width: number;
  onChoose: (release: string) => void;
}) {
  const { rungs } = ladderPlaces(ladder, width);
  const [first, last] = [rungs[0], rungs.at(-1)];
  return (
    <svg
      width={width}
      height={ladderHeight}
      role="group"
      aria-label={`${ladder.product}, ${ladder.component}: releases`}
    >
      <line x1={(first?.x ?? 0) - 14} x2={(last?.x ?? 0) + 14} y1={lineAt} y2={lineAt} stroke="var(--ink-3)" />
      {rungs.map((rung) => (
        <RungMark
          key={rung.release}
          rung={rung}
          words={rungWords(ladder, rung)}
          onChoose={() => onChoose(rung.release)}
        />
      ))}
    </svg>
  );
}

function RungMark({
  rung: { x, release, count, before, dashes, dashesBefore, published, status, targetOf, isNamed },
  words,
  onChoose,
}: {
  rung: PlacedRung;
  words: string;
  onChoose: () => void;
}) {
  const isCompared = before !== null;
  const left = isCompared ? x - dashWidth - 2 : x - dashWidth / 2;
  const top = lineAt - 6 - dashStep * Math.max(dashes, dashesBefore);
  const isPressed = count > 0;
  const colour = targetOf.length > 0 ? 'var(--lagoon)' : 'var(--ink-2)';
  return (
    <>
      <g
        className="rung"
        role={isPressed ? 'button' : 'img'}
        {...(isPressed && { tabIndex: 0 })}
        aria-label={words}
        onClick={isPressed ? onChoose : undefined}
        onKeyDown={
          isPressed
            ? ({ key }) => {
                if (key === 'Enter' || key === ' ') onChoose();
              }
            : undefined
        }
      >
        <rect x={x - 30} y={0} width={60} height={ladderHeight} fill="transparent" />
        <line x1={x} x2={x} y1={lineAt - 3} y2={lineAt + 3} stroke="var(--ink-3)" />
        {Array.from({ length: dashes }, (_, nth) => (
          <rect
            key={nth}
            x={isCompared ? x + 2 : left}
            y={lineAt - 8 - dashStep * nth}
            width={dashWidth}
            height={dashHeight}
            fill={colour}
          />
        ))}
        {Array.from({ length: dashesBefore }, (_, nth) => (
          <rect
            key={`before ${nth}`}
            x={left + 0.5}
            y={lineAt - 7.5 - dashStep * nth}
            width={dashWidth - 1}
            height={dashHeight - 1}
            fill="none"
            stroke="var(--ink-3)"
          />
        ))}
        {targetOf.length > 0 && (
          <path d={`M${x - 5},${lineAt + 9} L${x},${lineAt + 2} L${x + 5},${lineAt + 9} Z`} fill="var(--ember)" />
        )}
      </g>
      {/* what the mark says already, for the eye */}
      <g className="rungtexts" aria-hidden="true">
        {(count > 0 || (before ?? 0) > 0) && (
          <text x={x} y={top - 2} fill="var(--ink)">
            {isCompared && before !== count ? `${before} → ${count}` : count}
          </text>
        )}
        {isNamed && (
          <>
            <text
              x={x}
              y={lineAt + 21}
              className={isGone(status) ? 'mono struck' : 'mono'}
              fill={count > 0 ? 'var(--ink)' : 'var(--ink-3)'}
            >
              {release}
            </text>
            <text x={x} y={lineAt + 34} fontSize={10} fill="var(--ink-3)">
              {published ? format(new Date(`${published}T00:00`), 'MMM yyyy') : ''}
            </text>
          </>
        )}
      </g>
    </>
  );
}
