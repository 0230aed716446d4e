'use client';

import { useQuery } from '@tanstack/react-query';
import { scaleSqrt } from 'd3';
import { rhythmOf } from '@/core/flow/rhythm';
import { weekOf } from '@/core/flow/seenOnce';
import { Ago } from '../../components/Ago';
import { call } from '../../lib/api';

const hourMs = 3_600_000;
const dayHours = 24;
const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const labelled = [0, 6, 12, 18];
const shownDays = 60;
/** In the units of the picture. */
const [cell, left, top] = [12, 30, 14];
const [stripTop, stripHeight, dayWidth] = [top + 7 * cell + 8, 16, (24 * cell) / shownDays];

/** By the clock of whoever looks, summer and winter told apart. */
const localHour = (hour: number): number => hour - Math.round(new Date(hour * hourMs).getTimezoneOffset() / 60);

/** When a conversation was heard: by hour of the week, and by day. */
export function TalkCalendar({ id }: { id: string }) {
  const { data, dataUpdatedAt } = useQuery<{ hours: number[] }>({
    queryKey: ['hours', id],
    queryFn: () => call(`conversations/${encodeURIComponent(id)}/hours`),
  });
  const hours = data?.hours.map(localHour) ?? [];
  const last = data?.hours.at(-1);
  if (hours.length === 0 || last === undefined) return null;
  const week = weekOf(hours);
  const radius = scaleSqrt()
    .domain([0, Math.max(...week)])
    .range([0, cell / 2 - 1]);
  const today = Math.floor(localHour(Math.floor(dataUpdatedAt / hourMs)) / dayHours);
  const byDay = new Map<number, number>();
  for (const hour of hours) {
    const day = Math.floor(hour / dayHours);
    byDay.set(day, (byDay.get(day) ?? 0) + 1);
  }
  const words = rhythmOf(hours);
  return (
    <section className="section">
      <h3>When</h3>
      <p>
        <b>{words}</b>
        <span className="quiet">
          ; last heard <Ago at={new Date(last * hourMs).toISOString()} />
        </span>
      </p>
      <svg
        viewBox={`0 0 ${left + 24 * cell} ${stripTop + stripHeight + 12}`}
        style={{ width: '100%', maxWidth: 420 }}
        role="img"
        aria-label={`Hours of the week and days in which it was heard: ${words}`}
        fontSize={8}
        fill="currentColor"
      >
        {labelled.map((hour) => (
          <text key={hour} x={left + hour * cell} y={8}>
            {String(hour).padStart(2, '0')}
          </text>
        ))}
        {weekdays.map((name, day) => (
          <text key={name} x={0} y={top + day * cell + cell * 0.75}>
            {name}
          </text>
        ))}
        {Array.from(week, (count, at) => {
          const [day, hour] = [Math.floor(at / dayHours), at % dayHours];
          const [x, y] = [left + (hour + 0.5) * cell, top + (day + 0.5) * cell];
          const place = `${day} ${hour}`;
          return count === 0 ? (
            <circle key={place} cx={x} cy={y} r={0.6} fill="var(--line)" />
          ) : (
            <circle key={place} cx={x} cy={y} r={radius(count)} fill="var(--lagoon)">
              <title>{`${weekdays[day] ?? ''} ${String(hour).padStart(2, '0')}:00, in ${count} ${count === 1 ? 'week' : 'weeks'}`}</title>
            </circle>
          );
        })}
        <line
          x1={left}
          x2={left + 24 * cell}
          y1={stripTop + stripHeight}
          y2={stripTop + stripHeight}
          stroke="var(--line)"
        />
        {Array.from({ length: shownDays }, (_, nth) => {
          const day = today - shownDays + 1 + nth;
          const active = byDay.get(day) ?? 0;
          if (active === 0) return null;
          const height = (stripHeight * active) / dayHours;
          return (
            <rect
              key={day}
              x={left + nth * dayWidth + 0.5}
              y={stripTop + stripHeight - Math.max(2, height)}
              width={dayWidth - 1}
              height={Math.max(2, height)}
              fill="var(--lagoon)"
            >
              <title>{`${new Date(day * dayHours * hourMs).toISOString().slice(0, 10)}: ${active} ${active === 1 ? 'hour' : 'hours'}`}</title>
            </rect>
          );
        })}
        <text x={left} y={stripTop + stripHeight + 10}>
          {shownDays} days ago
        </text>
        <text x={left + 24 * cell} y={stripTop + stripHeight + 10} textAnchor="end">
          today
        </text>
      </svg>
    </section>
  );
}
