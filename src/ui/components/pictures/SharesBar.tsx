'use client';

import { scaleLinear } from 'd3';
import { formatShare } from '@/core/values/quantity';
import type { Bar } from './BarChart';
import { PlainButton } from '../PlainButton';

const colours = ['var(--lagoon)', 'var(--ember)', 'var(--moss)', 'var(--plum)', 'var(--sand)', 'var(--slate)'];

/** Parts of a whole as one bar, each named under it with its share; a click narrows as on bars. */
export function SharesBar({
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
  const rest = others.reduce((sum, { count }) => sum + count, cut?.rows ?? 0);
  const values = others.length + (cut?.values ?? 0);
  const total = shown.reduce((sum, { count }) => sum + count, rest);
  const width = scaleLinear()
    .domain([0, total || 1])
    .range([0, 100]);
  if (bars.length === 0) return null;
  const named = shown.map((bar, at) => ({
    ...bar,
    name: bar.label ?? (bar.value || 'none'),
    colour: bar.colour ?? colours[at % colours.length],
  }));
  return (
    <div className="picture shares" role="group" aria-label={title}>
      <div className="caption" aria-hidden>
        {title}
      </div>
      <div className="whole" aria-hidden>
        {named.map(({ value, name, count, colour }) => (
          <i
            key={value}
            title={`${name}: ${count} of ${total}`}
            style={{ width: `${width(count)}%`, background: colour }}
            onClick={(event) => onChoose(value, event.shiftKey)}
          />
        ))}
        {rest > 0 && (
          <i
            title={`${values} others: ${rest} of ${total}`}
            style={{ width: `${width(rest)}%`, background: 'var(--line)' }}
          />
        )}
      </div>
      {named.map(({ value, name, count, colour }) => (
        <PlainButton
          key={value}
          aria-pressed={chosen.includes(value)}
          title={`${name}: ${count} of ${total}`}
          onClick={(event) => onChoose(value, event.shiftKey)}
        >
          <span>
            <i style={{ background: colour }} />
            {name}
          </span>
          <span>{formatShare(count, total)}</span>
        </PlainButton>
      ))}
      {rest > 0 && (
        <div
          className="small quiet"
          title={others
            .slice(0, 40)
            .map(({ value, label, count }) => `${label ?? (value || 'none')}: ${count}`)
            .join('\n')}
        >
          {formatShare(rest, total)} in {values} other{values === 1 ? '' : 's'}
        </div>
      )}
    </div>
  );
}
