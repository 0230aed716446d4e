'use client';

import { max, scaleLinear } from 'd3';
import { PlainButton } from '../PlainButton';

export interface Bar {
  value: string;
  label?: string;
  count: number;
  colour?: string;
}

/** Small exact bars with the number written; a click narrows to that value, a second one takes it back, Shift adds one more. */
export function BarChart({
  title,
  bars,
  cut,
  chosen,
  onChoose,
  most = 4,
}: {
  title: string;
  bars: Bar[];
  cut?: { values: number; rows: number } | undefined;
  chosen: string[];
  onChoose: (value: string, more: boolean) => void;
  most?: number;
}) {
  const shown = bars.slice(0, most);
  const others = bars.slice(most);
  const hidden = others.reduce((sum, { count }) => sum + count, cut?.rows ?? 0);
  const values = others.length + (cut?.values ?? 0);
  const width = scaleLinear()
    .domain([0, max(bars, ({ count }) => count) ?? 1])
    .range([0, 74]);
  if (bars.length === 0) return null;
  return (
    <div className="picture" role="group" aria-label={title}>
      <div className="caption" aria-hidden>
        {title}
      </div>
      {shown.map(({ value, label, count, colour }) => (
        <PlainButton
          key={value}
          aria-pressed={chosen.includes(value)}
          title={`${label ?? (value || 'none')}: ${count}`}
          onClick={(event) => onChoose(value, event.shiftKey)}
        >
          <span>{label ?? (value || 'none')}</span>
          <span className="bar">
            <i style={{ width: `${width(count)}%`, background: colour ?? 'var(--lagoon)' }} />
            {count}
          </span>
        </PlainButton>
      ))}
      {hidden > 0 && (
        <div
          className="small quiet"
          title={others
            .slice(0, 40)
            .map(({ value, label, count }) => `${label ?? (value || 'none')}: ${count}`)
            .join('\n')}
        >
          {hidden} in {values} other{values === 1 ? '' : 's'}
        </div>
      )}
    </div>
  );
}
