'use client';

import { useId, useState } from 'react';
import { withWrittenValue, writtenTerms, editableTerms, type EditableTerm } from '@/core/filter/editableTerms';
import type { FieldKind } from '@/core/filter/filterField';
import { relatedThings } from '@/core/things/things';
import type { Relation } from '@/core/filter/filterNode';
import { ActIcon } from '../ActIcon';
import { useFieldsOf } from '../../lib/ownFields';
import { fieldNamed, useSuggestions, type FilteredThing } from './useSuggestions';
import { PlainButton } from '../PlainButton';
import { PlainSelect } from '../PlainSelect';
import { PlainInput } from '../PlainInput';

const words: Record<Relation, string> = {
  contains: 'contains',
  '=': 'is',
  '!=': 'is not',
  '>': 'is above',
  '>=': 'is at least',
  '<': 'is below',
  '<=': 'is at most',
};
const ordered: Relation[] = ['=', '!=', '>', '>=', '<', '<='];
const relationsOf = (kind: FieldKind | undefined): Relation[] =>
  kind === undefined
    ? ['contains']
    : kind === 'boolean'
      ? ['=']
      : kind === 'text' || kind === 'address' || kind === 'mac'
        ? ['contains', '=', '!=']
        : kind === 'release'
          ? ['contains', ...ordered]
          : ordered;

/** A filter as conditions to choose from; what is chosen stands in the text at once, and what is written in the text stands here. */
export function FilterBuilder({
  about,
  text,
  onChange,
}: {
  about: FilteredThing;
  text: string;
  onChange: (text: string) => void;
}) {
  // a condition that has no value yet is in no text
  const [draft, setDraft] = useState<EditableTerm[]>([]);
  const terms = writtenTerms(draft) === text && text !== '' ? draft : editableTerms(text);
  if (!terms)
    return (
      <p className="small quiet">
        A filter with “or”, brackets around several terms, or half a term is edited as text.
      </p>
    );
  const change = (next: EditableTerm[]) => {
    setDraft(next);
    onChange(writtenTerms(next));
  };
  return (
    <ul className="conditions" aria-label="Conditions">
      {terms.map((term, at) => (
        // a condition has no name but its place
        <Condition
          key={at}
          about={about}
          term={term}
          onChange={(next) => change(terms.map((own, place) => (place === at ? next : own)))}
          onRemove={() => change(terms.filter((_, place) => place !== at))}
        />
      ))}
      <Condition key={`new ${terms.length}`} about={about} term={null} onChange={(next) => change([...terms, next])} />
    </ul>
  );
}

function Condition({
  about,
  term,
  onChange,
  onRemove,
}: {
  about: FilteredThing;
  term: EditableTerm | null;
  onChange: (term: EditableTerm) => void;
  onRemove?: () => void;
}) {
  const fieldsOf = useFieldsOf();
  const list = useId();
  const named = term?.field ? fieldNamed(fieldsOf, about.thing, term.field) : null;
  const values = useSuggestions(
    about,
    term?.field ? { kind: 'value', from: 0, to: 0, typed: '', field: term.field, rest: '', within: '' } : null,
  );
  const choose = (name: string) => {
    const field = name === '' ? null : name;
    const kind = field ? fieldNamed(fieldsOf, about.thing, field)?.field.kind : undefined;
    const relation = relationsOf(kind)[0] ?? 'contains';
    // of a new condition something must stand in the text: rows that have any value
    onChange({
      field,
      relation: field && !term ? '!=' : relation,
      value: term && relation === term.relation ? term.value : '',
      not: term?.not ?? false,
    });
  };
  const relations = relationsOf(named?.field.kind);
  return (
    <li>
      <PlainSelect
        aria-label="Field"
        value={term ? (term.field ?? '*') : ''}
        onChange={(event) => choose(event.target.value === '*' ? '' : event.target.value)}
      >
        {!term && <option value="">add a condition…</option>}
        {term && <option value="*">anywhere</option>}
        {fieldsOf(about.thing).map(({ name, label }) => (
          <option key={name} value={name}>
            {label}
          </option>
        ))}
        {Object.entries(relatedThings[about.thing] ?? {}).map(([word, of]) => (
          <optgroup key={word} label={`one step away: ${word}`}>
            {fieldsOf(of).map(({ name, label }) => (
              <option key={name} value={`${word}.${name}`}>
                {word}: {label.toLowerCase()}
              </option>
            ))}
          </optgroup>
        ))}
      </PlainSelect>
      {term && (
        <>
          <PlainSelect
            aria-label="Relation"
            value={`${term.not ? '-' : ''}${term.relation}`}
            onChange={(event) =>
              onChange({
                ...term,
                not: event.target.value.startsWith('-'),
                relation: event.target.value.replace(/^-/, '') as Relation,
              })
            }
          >
            {[...new Set([...relations, term.relation])].map((relation) => (
              <option key={relation} value={relation}>
                {words[relation]}
              </option>
            ))}
            <option value="-contains">does not contain</option>
            {term.not && term.relation !== 'contains' && (
              <option value={`-${term.relation}`}>not: {words[term.relation]}</option>
            )}
          </PlainSelect>
          <PlainInput
            aria-label="Value"
            list={list}
            value={term.value}
            placeholder={term.relation === '!=' ? 'nothing' : 'a value'}
            spellCheck={false}
            onChange={(event) => {
              const { value } = event.target;
              onChange(
                withWrittenValue(
                  term,
                  value,
                  values.some(({ put }) => put === value),
                ),
              );
            }}
          />
          <datalist id={list}>
            {values.map(({ put, more }) => (
              <option key={put} value={put}>
                {more}
              </option>
            ))}
          </datalist>
          <PlainButton aria-label="Take this condition away" onClick={onRemove}>
            <ActIcon act="remove" />
          </PlainButton>
        </>
      )}
    </li>
  );
}
