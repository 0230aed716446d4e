'use client';

import { max, scaleLinear } from 'd3';
import type { Group } from '@/core/things/grouping';
import { PlainButton } from '../PlainButton';

const mostRows = 4;
const mostColumns = 5;

/** Two fields against each other: how many rows have both values. A click on a number narrows to it. */
export function Matrix({
  title,
  groups,
  label,
  chosen,
  onChoose,
}: {
  title: string;
  groups: Group[];
  label: (level: 0 | 1, value: string) => string;
  chosen: [string | null, string | null];
  onChoose: (pair: [string, string] | null) => void;
}) {
  const rows = groups.filter(({ path }) => path.length === 1).sort((x, y) => y.count - x.count);
  const cells = new Map(
    groups.filter(({ path }) => path.length === 2).map(({ path, count }) => [path.join('\u0000'), count]),
  );
  const totals = new Map<string, number>();
  for (const { path, count } of groups)
    if (path.length === 2) totals.set(path[1] ?? '', (totals.get(path[1] ?? '') ?? 0) + count);
  const columns = [...totals].sort((x, y) => y[1] - x[1]).map(([value]) => value);
  const shown = rows.slice(0, mostRows);
  const strength = scaleLinear()
    .domain([0, max([...cells.values()]) ?? 1])
    .range([6, 46]);
  if (rows.length === 0) return null;
  return (
    <div className="picture matrix" role="group" aria-label={title}>
      <div className="caption" aria-hidden>
        {title}
      </div>
      <table>
        <thead>
          <tr>
            <td />
            {columns.slice(0, mostColumns).map((value) => (
              <th key={value} scope="col" title={label(1, value)}>
                {label(1, value)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map(({ path: [value = ''] }) => (
            <tr key={value}>
              <th scope="row" title={label(0, value)}>
                {label(0, value)}
              </th>
              {columns.slice(0, mostColumns).map((other) => {
                const count = cells.get(`${value}\u0000${other}`) ?? 0;
                const pressed = chosen[0] === value && chosen[1] === other;
                return (
                  <td
                    key={other}
                    style={
                      count > 0
                        ? { background: `color-mix(in srgb, var(--lagoon) ${strength(count)}%, transparent)` }
                        : undefined
                    }
                  >
                    {count > 0 && (
                      <PlainButton
                        aria-pressed={pressed}
                        title={`${label(0, value)}, ${label(1, other)}: ${count}`}
                        onClick={() => onChoose(pressed ? null : [value, other])}
                      >
                        {count}
                      </PlainButton>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {(rows.length > mostRows || columns.length > mostColumns) && (
        <div className="small quiet">
          {[
            rows.length > mostRows && `${rows.length - mostRows} more down`,
            columns.length > mostColumns && `${columns.length - mostColumns} more across`,
          ]
            .filter(Boolean)
            .join(', ')}
        </div>
      )}
    </div>
  );
}
