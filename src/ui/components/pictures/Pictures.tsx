'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { chosenSpan, chosenTerm, chosenTerms, withChosen, withSpan, withTerm } from '@/core/filter/terms';
import { ageSpans } from '@/core/things/ages';
import type { ThingField } from '@/core/things/thing';
import type { ThingName } from '@/core/things/things';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRequest } from '../../lib/api';
import { namedText } from '../../lib/format';
import { useFieldsOf } from '../../lib/ownFields';
import { BarChart } from './BarChart';
import type { PictureChoice } from './usePictures';
import { fetched } from '../../lib/fetched';

// bars are what stands over a table at first
const Matrix = fetched(() => import('./Matrix').then((module) => module.Matrix));
const SharesBar = fetched(() => import('./SharesBar').then((module) => module.SharesBar));

interface PicturesProps {
  thing: ThingName;
  request: ThingRequest;
  /** the first page of the table, with the shares of every field that is pictured alone */
  page: ThingPage | undefined;
  pictures: PictureChoice[];
  /** the moment from which ages count */
  now: string;
  onNarrow: (where: string) => void;
}

/** Pictures above, rows below: a press narrows the rows to a value, with Shift to one more of them. */
export function Pictures({ thing, request, page, pictures, now, onNarrow }: PicturesProps) {
  const fieldOf = useField(thing);
  if (pictures.length === 0) return null;
  return (
    <div className="pictures">
      {pictures.map(({ field, other, asShares = false }) => {
        const title = `by ${[field, other].flatMap((name) => (name ? [inSentence(fieldOf(name)?.label ?? name)] : [])).join(' and ')}`;
        return other ? (
          <PairPicture key={`${field}*${other}`} {...{ thing, request, title, field, other, onNarrow }} />
        ) : (
          <FieldPicture key={field} {...{ thing, request, title, field, asShares, page, now, onNarrow }} />
        );
      })}
    </div>
  );
}

/** A heading within a sentence; VLAN and MTU stay as they are. */
const inSentence = (label: string) => (/^[A-Z]{2}/.test(label) ? label : label.toLowerCase());

function useField(thing: ThingName): (name: string) => ThingField | undefined {
  const fields = useFieldsOf()(thing);
  return (name) => fields.find((own) => own.name === name);
}

/** Shares of one field, or of its ages. What the filter says of the field itself is left out, so that the other values can still be chosen. */
function FieldPicture({
  thing,
  request,
  title,
  field,
  asShares,
  page,
  now,
  onNarrow,
}: Pick<PicturesProps, 'thing' | 'request' | 'page' | 'now' | 'onNarrow'> & {
  title: string;
  field: string;
  asShares: boolean;
}) {
  const Chart = asShares ? SharesBar : BarChart;
  const fieldOf = useField(thing);
  const where = request.where ?? '';
  const isAge = fieldOf(field)?.kind === 'date' && now !== '';
  const { from, before } = chosenSpan(where, field);
  const narrowed = isAge ? from !== null || before !== null : chosenTerms(where, field).length > 0;
  const { group: _group, ...plain } = request;
  const path = thingPath(thing, {
    ...plain,
    where: isAge ? withSpan(where, field, null, null) : withTerm(where, field, null),
    size: 1,
    count: [field],
  });
  const free = useQuery<ThingPage, ApiProblem>({
    queryKey: ['thing', path],
    queryFn: ({ signal }) => call<ThingPage>(path, { signal }),
    placeholderData: keepPreviousData,
    enabled: narrowed,
    retry: false,
  });
  // until its own answer is there, a picture stays as it was
  const last = useRef(page);
  useEffect(() => {
    if (!narrowed && page) last.current = page;
  }, [narrowed, page]);
  const counted = narrowed ? (free.data ?? last.current ?? page) : page;
  const shares = counted?.shares?.[field] ?? [];
  if (!isAge) {
    return (
      <Chart
        title={title}
        bars={shares.map(({ value, count }) => ({ value, count, label: namedText(value, fieldOf(field)) }))}
        cut={counted?.sharesCut?.[field]}
        chosen={chosenTerms(where, field)}
        onChoose={(value, more) => onNarrow(withChosen(where, field, value, more))}
      />
    );
  }
  const spans = ageSpans(shares, now).filter(({ count }) => count > 0);
  const chosen = narrowed ? spans.find((span) => span.from === from && span.before === before)?.label : undefined;
  return (
    <Chart
      title={title}
      most={5}
      bars={spans.map(({ label, count }) => ({ value: label, count }))}
      chosen={chosen === undefined ? [] : [chosen]}
      onChoose={(label) => {
        const span = spans.find((one) => one.label === label);
        onNarrow(
          label === chosen || !span
            ? withSpan(where, field, null, null)
            : withSpan(where, field, span.from, span.before),
        );
      }}
    />
  );
}

function PairPicture({
  thing,
  request,
  title,
  field,
  other,
  onNarrow,
}: Pick<PicturesProps, 'thing' | 'request' | 'onNarrow'> & { title: string; field: string; other: string }) {
  const fieldOf = useField(thing);
  const { group: _group, ...plain } = request;
  const path = thingPath(thing, { ...plain, size: 1, group: [field, other] });
  const { data, error } = useQuery<ThingPage, ApiProblem>({
    queryKey: ['thing', path],
    queryFn: ({ signal }) => call<ThingPage>(path, { signal }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const where = request.where ?? '';
  if (error)
    return (
      <div className="picture">
        <div className="caption">{title}</div>
        <p className="small quiet">{error.words}</p>
      </div>
    );
  return (
    <Matrix
      title={title}
      groups={data?.groups ?? []}
      label={(level, value) => namedText(value, fieldOf(level === 0 ? field : other))}
      chosen={[chosenTerm(where, field), chosenTerm(where, other)]}
      onChoose={(pair) => onNarrow(withTerm(withTerm(where, field, pair?.[0] ?? null), other, pair?.[1] ?? null))}
    />
  );
}
