'use client';

import { max, scaleSqrt, scaleTime } from 'd3';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { chosenTerms, withTerm } from '@/core/filter/terms';
import { day, moment } from '../lib/format';
import { sealedOf, useSurveys, type SurveyRow } from '../lib/useSurveys';
import { openedUp } from './stripPlaces';
import { useView } from '../lib/useView';

/** The surveys on a true time axis; tick height is how much changed. A click views, Shift+click compares. */
export function TimeStrip() {
  const { data } = useSurveys();
  const view = useView();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1100);
  useEffect(() => {
    if (!box.current) return undefined;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width - 150));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  const sealed = sealedOf(data);
  const latest = sealed.at(-1);
  const viewing = sealed.find(({ id }) => String(id) === view.survey) ?? latest;
  const against = sealed.find(({ id }) => String(id) === view.against);
  const indexOf = (survey: string) => {
    const found = sealed.findIndex(({ id }) => String(id) === survey);
    return found < 0 ? sealed.length - 1 : found;
  };

  // without a comparison nothing is changed: what the filter says of it would show nothing
  const notCompared = () => ({
    against: null,
    ...(chosenTerms(view.where, 'change').length > 0 && { where: withTerm(view.where, 'change', null) }),
  });
  /** From the survey of the address, not from the one drawn: keys that follow each other quickly all count. */
  const go = (indexFrom: (now: number) => number) =>
    view.set((now) => {
      const next = sealed[Math.max(0, Math.min(sealed.length - 1, indexFrom(indexOf(now('survey')))))];
      return next
        ? {
            survey: next.id === latest?.id ? null : String(next.id),
            ...(now('against') === String(next.id) && notCompared()),
          }
        : {};
    });
  const compare = (id: number) =>
    view.set((now) => (now('against') === String(id) || id === viewing?.id ? notCompared() : { against: String(id) }));
  // keys by what they print, so that they work on every keyboard layout
  const byPrint = { useKey: true };
  useHotkeys('[', () => go((now) => now - 1), byPrint, [sealed.length, view]);
  useHotkeys(']', () => go((now) => now + 1), byPrint, [sealed.length, view]);
  useHotkeys(
    '.',
    // by the address as it is wanted: a second press may come before the first one is drawn
    () =>
      view.set((now) => {
        if (now('against')) return notCompared();
        const from = indexOf(now('survey'));
        const previous = sealed.find(({ id }) => id === sealed[from]?.comparedWith) ?? sealed[from - 1];
        return previous ? { against: String(previous.id) } : {};
      }),
    byPrint,
    [sealed.length, view],
  );

  if (!viewing) {
    return (
      <div className="strip" ref={box} role="region" aria-label="Time strip">
        <div className="moment small quiet" style={{ width: 'auto', paddingTop: 11 }}>
          {data ? 'No survey has been sealed yet: the time strip begins with the first one.' : 'reading the surveys…'}
        </div>
      </div>
    );
  }
  const first = new Date(sealed[0]?.startedAt ?? viewing.startedAt);
  const last = new Date(latest?.startedAt ?? viewing.startedAt);
  const x = scaleTime()
    .domain(
      first.getTime() === last.getTime()
        ? [new Date(first.getTime() - 86_400_000), new Date(last.getTime() + 86_400_000)]
        : [first, last],
    )
    .range([24, Math.max(200, width - 66)]);
  const height = scaleSqrt()
    .domain([0, max(sealed, ({ summary }) => summary?.changes ?? 0) || 1])
    .range([3, 18]);
  const places = openedUp(
    sealed.map(({ startedAt }) => x(new Date(startedAt))),
    24,
    Math.max(200, width - 66),
  );
  const placeOf = (id: number) => places[sealed.findIndex((one) => one.id === id)] ?? 0;
  /** One stop of the tab key; arrows go from survey to survey, Home and End to the ends. */
  const onKeyDown = (event: KeyboardEvent<SVGGElement>, survey: SurveyRow) => {
    const at = sealed.indexOf(survey);
    const steps: Record<string, number> = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: sealed.length - 1 };
    const next = steps[event.key];
    if (next !== undefined) {
      const ticks = event.currentTarget.parentElement?.querySelectorAll<SVGGElement>('.tick');
      ticks?.[Math.max(0, Math.min(sealed.length - 1, next))]?.focus();
    } else if (event.key !== 'Enter' && event.key !== ' ') return;
    else if (event.shiftKey) compare(survey.id);
    else go(() => at);
    event.preventDefault();
    event.stopPropagation();
  };
  let labelledUntil = -Infinity;
  return (
    <div className="strip" ref={box} role="region" aria-label="Time strip">
      <div className="moment small">
        <span className="quiet">{viewing.id === latest?.id ? 'viewing the latest' : 'viewing'}</span>
        <b title={viewing.startedAt}>{moment(viewing.startedAt)}</b>
      </div>
      <svg height="40" width={Math.max(200, width)} role="group" aria-label="Surveys">
        <line x1="0" x2={width - 16} y1="26.5" y2="26.5" stroke="var(--ink-3)" opacity="0.5" />
        {against && (
          <rect
            x={Math.min(placeOf(against.id), placeOf(viewing.id))}
            width={Math.abs(placeOf(viewing.id) - placeOf(against.id))}
            y="25.5"
            height="3"
            fill="var(--ember)"
          />
        )}
        {sealed.map((survey, nth) => {
          const place = places[nth] ?? 0;
          const room = (places[nth + 1] ?? place + 56) - place;
          const tall = height(survey.summary?.changes ?? 0);
          const labelled = place - labelledUntil > 52;
          if (labelled) labelledUntil = place;
          const isViewing = survey.id === viewing.id;
          const isAgainst = survey.id === against?.id;
          return (
            <g
              key={survey.id}
              className="tick"
              role="button"
              tabIndex={isViewing ? 0 : -1}
              aria-label={`Survey ${survey.id} of ${survey.scopeName}, ${moment(survey.startedAt)}, ${survey.summary?.changes ?? 0} changes${isViewing ? ', viewing' : ''}${isAgainst ? ', compared with' : ''}`}
              onClick={(event) => (event.shiftKey ? compare(survey.id) : go(() => sealed.indexOf(survey)))}
              onKeyDown={(event) => onKeyDown(event, survey)}
            >
              <title>{`Survey ${survey.id} of ${survey.scopeName}, ${moment(survey.startedAt)}: ${survey.summary?.changes ?? 0} changes. Click views it, Shift+click compares with it.`}</title>
              <rect
                className="hit"
                x={place - 4.5}
                y="2"
                width={Math.min(52, Math.max(9, room))}
                height="36"
                fill="transparent"
              />
              <rect x={place - 2.5} y={26 - tall} width="5" height={tall} fill="var(--ink-3)" opacity="0.55" />
              {isAgainst && (
                <circle cx={place} cy="27" r="5.2" fill="var(--sunken)" stroke="var(--lagoon)" strokeWidth="2.2" />
              )}
              {isViewing && <circle cx={place} cy="27" r="6" fill="var(--ember)" />}
              {labelled && (
                <text x={place + 9} y="21" fontSize="11" fill="var(--ink-3)">
                  {day(survey.startedAt)}
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}
