'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { fieldsFor, type FilterPlace } from '@/core/filter/completion';
import { otherSteps, relatedThings, type ThingName } from '@/core/things/things';
import type { ThingField } from '@/core/things/thing';
import { useFieldsOf, type FieldsOf } from '../../lib/ownFields';
import { call, thingPath, type ApiProblem, type ThingPage } from '../../lib/api';

export interface Suggestion {
  /** what is put into the filter */
  put: string;
  words: string;
  more: string;
}

export interface FilteredThing {
  thing: ThingName;
  survey?: string | null;
  against?: string | null;
}

const most = 8;

/** The field a term is for, of the thing itself or of one a step away. */
export function fieldNamed(
  fieldsOf: FieldsOf,
  thing: ThingName,
  name: string,
): { of: ThingName; field: ThingField } | null {
  const [word = '', inner] = name.split('.');
  const of = inner === undefined ? thing : relatedThings[thing]?.[word];
  const field = of && fieldsOf(of).find((own) => own.name.toLowerCase() === (inner ?? word).toLowerCase());
  return of && field ? { of, field } : null;
}

/** All fields that a filter of a thing may name, those of related things behind their word. */
const filterFields = (fieldsOf: FieldsOf, thing: ThingName): ThingField[] => [
  ...fieldsOf(thing),
  ...Object.entries(relatedThings[thing] ?? {}).flatMap(([word, of]) =>
    fieldsOf(of).map((field) => ({
      ...field,
      name: `${word}.${field.name}`,
      label: `${word}: ${field.label.toLowerCase()}`,
    })),
  ),
  ...Object.entries(otherSteps[thing] ?? {}).flatMap(([word, fields]) =>
    fields.map((field) => ({ ...field, name: `${word}.${field.name}` })),
  ),
];

/** Names of fields, or values that rows have, for what stands at the caret. */
export function useSuggestions({ thing, survey, against }: FilteredThing, place: FilterPlace | null): Suggestion[] {
  const fieldsOf = useFieldsOf();
  const named = place?.kind === 'value' ? fieldNamed(fieldsOf, thing, place.field) : null;
  // values of a thing a step away are those of all of its rows
  const where = [
    named?.of === thing ? place?.within : '',
    place?.typed && named && !named.field.list ? `${named.field.name}:"${place.typed}"` : '',
  ]
    .filter(Boolean)
    .join(' ');
  const path = named
    ? thingPath(named.of, {
        survey: survey ?? null,
        against: against ?? null,
        where,
        size: 1,
        count: [named.field.name],
      })
    : '';
  const { data } = useQuery<ThingPage, ApiProblem>({
    queryKey: ['thing', path],
    queryFn: ({ signal }) => call<ThingPage>(path, { signal }),
    enabled: named !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (!place) return [];
  if (place.kind === 'field')
    return fieldsFor(place.typed, filterFields(fieldsOf, thing), most).map(({ name, label }) => ({
      put: name,
      words: name,
      more: label,
    }));
  if (!named) return [];
  const typed = place.typed.toLowerCase();
  return (data?.shares?.[named.field.name] ?? [])
    .filter(({ value }) => value !== '' && value.toLowerCase().includes(typed))
    .slice(0, most)
    .map(({ value, count }) => ({
      put: named.field.kind === 'boolean' ? (value === 'true' ? 'yes' : 'no') : value,
      words: named.field.kind === 'boolean' ? (value === 'true' ? 'yes' : 'no') : value,
      more: String(count),
    }));
}
