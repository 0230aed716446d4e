'use client';

import { scaleSqrt } from 'd3';
import type { CheckRow } from './useChecks';

const [barWidth, gap, height] = [5, 2, 16];
const most = 24;

/** How a check stood at each survey: a bar for each that failed, as high as what it found; a dot where it held. */
export function Standing({
  history,
  momentOf,
}: {
  history: CheckRow['history'];
  momentOf: (survey: number) => string;
}) {
  const shown = history.slice(-most);
  const heightOf = scaleSqrt([0, Math.max(1, ...shown.map(({ failing }) => failing))], [2, height]);
  return (
    <svg
      width={most * (barWidth + gap)}
      height={height}
      role="img"
      aria-label={`at the last ${shown.length} surveys: ${shown.map(({ failing }) => failing).join(', ')}`}
    >
      {shown.map(({ survey, failing }, at) => {
        const x = (most - shown.length + at) * (barWidth + gap);
        return (
          <g key={survey}>
            <title>{`${momentOf(survey)}: ${failing === 0 ? 'held' : `${failing} found`}`}</title>
            {failing === 0 ? (
              <circle cx={x + barWidth / 2} cy={height - 2} r={1.5} fill="var(--good)" />
            ) : (
              <rect
                x={x}
                y={height - heightOf(failing)}
                width={barWidth}
                height={heightOf(failing)}
                fill="var(--bad)"
              />
            )}
          </g>
        );
      })}
    </svg>
  );
}
