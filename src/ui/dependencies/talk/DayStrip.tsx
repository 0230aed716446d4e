'use client';

import { scaleBand, scaleSqrt } from 'd3';
import { useRef, useState, type KeyboardEvent } from 'react';
import { Hint } from '../../components/Hint';
import { TextButton } from '../../components/TextButton';
import type { HeardDays } from './heardDays';

export interface TalkDay {
  day: string;
  conversations: number;
}

const [width, height, foot] = [520, 30, 15];
/** Days that a name takes up. */
const roomOfName = 5;
const words = (day: string): string =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
  });
const sentence = ({ day, conversations }: TalkDay): string =>
  `${words(day)}: ${conversations.toLocaleString('en')} ${conversations === 1 ? 'conversation' : 'conversations'}`;

/**
 * On each of the last days: how many conversations were heard. A press looks at one day, a drag or Shift and a press at a span of them; the arrows go from day to day, with Shift they take more.
 */
export function DayStrip({
  days,
  chosen,
  onChoose,
}: {
  days: readonly TalkDay[];
  chosen: HeardDays;
  onChoose: (from: string | null, to: string | null) => void;
}) {
  const [from, setFrom] = useState<string | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const box = useRef<SVGSVGElement>(null);
  if (days.length === 0) return null;
  const x = scaleBand(
    days.map(({ day }) => day),
    [0, width],
  ).paddingInner(0.25);
  const tall = scaleSqrt()
    .domain([0, Math.max(...days.map(({ conversations }) => conversations), 1)])
    .range([0, height - 2]);
  const isChosen = (day: string): boolean => {
    if (from !== null && over !== null) return from <= over ? day >= from && day <= over : day >= over && day <= from;
    return chosen?.includes(day) ?? false;
  };
  const anchor = chosen?.[0] ?? null;
  const stop = chosen?.at(-1) ?? days.at(-1)?.day;
  const onKeyDown = (event: KeyboardEvent<SVGGElement>, at: number) => {
    const steps: Record<string, number> = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: days.length - 1 };
    const next = days[Math.max(0, Math.min(days.length - 1, steps[event.key] ?? -1))];
    const own = days[at]?.day ?? '';
    if (steps[event.key] !== undefined && next) {
      box.current?.querySelectorAll<SVGGElement>('.day')[days.indexOf(next)]?.focus();
      if (event.shiftKey)
        onChoose(
          event.key === 'ArrowLeft' || event.key === 'Home' ? next.day : (anchor ?? own),
          event.key === 'ArrowLeft' || event.key === 'Home' ? (chosen?.at(-1) ?? own) : next.day,
        );
    } else if (event.key === 'Enter' || event.key === ' ') onChoose(own, event.shiftKey ? (anchor ?? own) : own);
    else if (event.key === 'Escape' && chosen) onChoose(null, null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const finish = () => {
    if (from !== null && over !== null) onChoose(from, over);
    setFrom(null);
  };
  const told = days.find(({ day }) => day === over);
  const [first, last] = [chosen?.[0], chosen?.at(-1)];
  return (
    <figure className="daystrip">
      <svg
        ref={box}
        viewBox={`0 0 ${width} ${height + foot}`}
        role="group"
        aria-label="Days on which talk was heard"
        onPointerLeave={() => {
          // a drag that leaves the strip is none
          setOver(null);
          setFrom(null);
        }}
        onPointerUp={finish}
      >
        {days.map((one, at) => {
          const { day, conversations } = one;
          const bar = Math.max(conversations > 0 ? 2 : 0, tall(conversations));
          // a month is named where it begins, and the first day there is where that is not just before it
          const isNamed = day.endsWith('-01') || (at === 0 && Number(day.slice(8)) < 25);
          const isAtEnd = at > days.length - roomOfName;
          return (
            <g
              key={day}
              className="day"
              role="button"
              tabIndex={day === stop ? 0 : -1}
              aria-label={sentence(one)}
              aria-pressed={isChosen(day)}
              onPointerEnter={() => setOver(day)}
              onFocus={() => setOver(day)}
              onPointerDown={(event) => {
                if (event.shiftKey && anchor) return onChoose(anchor, day);
                setFrom(day);
                setOver(day);
              }}
              // pressed by a machine that reads the page: no pointer came before
              onClick={({ detail }) => detail === 0 && onChoose(day, day)}
              onKeyDown={(event) => onKeyDown(event, at)}
            >
              <rect x={(x(day) ?? 0) - 1} width={x.step()} height={height + 1} fill="transparent" />
              <rect
                x={x(day)}
                width={x.bandwidth()}
                y={height - bar}
                height={bar}
                fill={isChosen(day) ? 'var(--ember)' : 'var(--lagoon)'}
                opacity={chosen && !isChosen(day) ? 0.45 : 1}
              />
              {isNamed && (
                <text
                  x={(x(day) ?? 0) + (isAtEnd ? x.bandwidth() : 0)}
                  y={height + 12}
                  textAnchor={isAtEnd ? 'end' : 'start'}
                  fontSize="11"
                  fill="var(--ink-3)"
                >
                  {words(day).replace(/^\w+, ?|^\w+ /, '')}
                </text>
              )}
            </g>
          );
        })}
        <line x1="0" x2={width} y1={height + 0.5} y2={height + 0.5} stroke="var(--line)" />
      </svg>
      <figcaption className="small">
        {told ? (
          sentence(told)
        ) : chosen ? (
          <>
            {first && last
              ? first === last
                ? words(first)
                : `${words(first)} to ${words(last)}, ${chosen.length} days`
              : 'None of these days is remembered'}
          </>
        ) : (
          <span className="quiet">
            Heard on each of the last {days.length} days (UTC); press one, or drag over some
          </span>
        )}{' '}
        {chosen && (
          <Hint words="Escape">
            <TextButton onClick={() => onChoose(null, null)}>every day</TextButton>
          </Hint>
        )}
      </figcaption>
    </figure>
  );
}
