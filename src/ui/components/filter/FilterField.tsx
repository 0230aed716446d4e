'use client';

import { useEffect, useId, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { completed, placeAtCaret } from '@/core/filter/completion';
import { compileFilter } from '@/core/filter/predicate';
import { FilterError } from '@/core/filter/filterNode';
import { parseFilter } from '@/core/filter/syntax';
import { otherSteps, relatedThings, type ThingName } from '@/core/things/things';
import { ActIcon } from '../ActIcon';
import type { ApiProblem } from '../../lib/api';
import { useFieldsOf, type FieldsOf } from '../../lib/ownFields';
import { useExample } from './useExample';
import { useFilterHistory } from './useFilterHistory';
import { useSuggestions, type FilteredThing, type Suggestion } from './useSuggestions';
import { PlainButton } from '../PlainButton';
import { PlainInput } from '../PlainInput';
import { Hint } from '../Hint';
import { fetched } from '../../lib/fetched';

const FilterBuilder = fetched(() => import('./FilterBuilder').then((module) => module.FilterBuilder));

/**
 * The filter of a table: `/` goes there, Escape empties it, a mistake is shown at its place. Down goes into what may be written at the caret, or, where nothing is written,
 * into the filters used last. Beside it the same filter as conditions to choose from.
 */
export function FilterField({
  about,
  value,
  onChange,
  problem,
  hint,
  own = false,
}: {
  about: FilteredThing;
  value: string;
  onChange: (text: string) => void;
  problem?: ApiProblem | null;
  hint: string;
  /** of a form: what is written is what is meant, `/` goes elsewhere, and nothing lies over the field that comes next */
  own?: boolean;
}) {
  const list = useId();
  const example = useExample(about.thing, hint);
  const fieldsOf = useFieldsOf();
  const [text, setText] = useState(value);
  // what was typed comes back by the address of the page a moment later: only what others put there is taken over
  const sent = useRef(new Set<string>([value]));
  const latest = useRef(value);
  const input = useRef<HTMLInputElement>(null);
  const whole = useRef<HTMLDivElement>(null);
  const [caret, setCaret] = useState<number | null>(null);
  const [at, setAt] = useState(-1);
  const [listed, setListed] = useState(false);
  const [building, setBuilding] = useState(false);
  const { filters, remember } = useFilterHistory(about.thing);
  useEffect(() => {
    // what the browser goes back to was typed here once, and is not being typed now
    const wentBack = () => {
      sent.current = new Set();
    };
    window.addEventListener('popstate', wentBack);
    return () => window.removeEventListener('popstate', wentBack);
  }, []);
  useEffect(() => {
    const own = sent.current.has(value);
    if (own && value !== latest.current) return;
    sent.current = new Set([value]);
    latest.current = value;
    if (!own) setText(value);
  }, [value]);
  useHotkeys(
    '/',
    (event) => {
      if (own) return;
      event.preventDefault();
      input.current?.focus();
      input.current?.select();
    },
    { useKey: true },
  );
  const change = (next: string) => {
    setText(next);
    setAt(-1);
    sent.current.add(next);
    latest.current = next;
    if (own || !mistakeIn(next, about.thing, fieldsOf)) return onChange(next);
    // half a term is nobody's filter yet: meanwhile the rows are those of the rest
    const rest = placeAtCaret(next, input.current?.selectionStart ?? next.length)?.rest ?? '';
    if (mistakeIn(rest, about.thing, fieldsOf)) return;
    sent.current.add(rest);
    onChange(rest);
  };
  const place = caret === null ? null : placeAtCaret(text, caret);
  const suggestions = useSuggestions(about, listed ? place : null);
  const history: Suggestion[] =
    text === '' && listed ? filters.map((filter) => ({ put: filter, words: filter, more: 'used before' })) : [];
  const known = place?.kind === 'field' && suggestions.some(({ put }) => put === place.typed);
  // at a word that is no beginning of a field nobody is shown anything
  const options = [...history, ...(known ? [] : suggestions)];
  const open = listed && options.length > 0 && caret !== null;
  const take = (option: Suggestion | undefined) => {
    if (!option) return;
    if (history.includes(option) || !place) {
      change(option.put);
      return setListed(false);
    }
    const next = completed(text, place, option.put);
    change(next.text);
    setListed(place.kind === 'field');
    setCaret(next.caret);
    requestAnimationFrame(() => input.current?.setSelectionRange(next.caret, next.caret));
  };
  const leave = () => {
    setListed(false);
    setCaret(null);
    remember(text);
  };
  const leaveAll = () => {
    leave();
    setBuilding(false);
  };
  const mistake =
    mistakeIn(text, about.thing, fieldsOf) ?? problem?.errors.find(({ path }) => path === 'where') ?? null;
  const told = open || building ? null : mistake;
  return (
    <div
      className={own ? 'filter ofform' : 'filter'}
      ref={whole}
      onBlur={(event) => (event.relatedTarget && whole.current?.contains(event.relatedTarget) ? undefined : leaveAll())}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !building) return;
        event.stopPropagation();
        setBuilding(false);
        input.current?.focus();
      }}
    >
      <PlainInput
        ref={input}
        type="text"
        spellCheck={false}
        autoComplete="off"
        role="combobox"
        aria-expanded={open}
        aria-controls={list}
        aria-activedescendant={open && at >= 0 ? `${list}-${at}` : undefined}
        aria-label="Filter"
        {...(!own && { 'aria-keyshortcuts': '/' })}
        aria-invalid={mistake ? true : undefined}
        placeholder={example}
        value={text}
        onChange={(event) => {
          change(event.target.value);
          setCaret(event.target.selectionStart);
          setListed(event.target.value !== '');
        }}
        onSelect={(event) => setCaret(event.currentTarget.selectionStart)}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') {
            setCaret(event.currentTarget.selectionStart);
            if (open) setAt(Math.min(options.length - 1, at + 1));
            else setListed(true);
          } else if (event.key === 'ArrowUp' && open) setAt(Math.max(-1, at - 1));
          else if (event.key === 'Enter') {
            if (open && at >= 0) take(options[at]);
            else {
              leave();
              if (!own) goToRows();
            }
          } else if (event.key === 'Escape') {
            if (open) setListed(false);
            else if (text) change('');
            else input.current?.blur();
          } else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      {text !== '' && (
        <PlainButton
          aria-label="Empty the filter"
          className="empty-filter"
          onClick={() => {
            change('');
            input.current?.focus();
          }}
        >
          <ActIcon act="remove" />
        </PlainButton>
      )}
      <Hint words="the same filter as conditions to choose from">
        <PlainButton aria-label="Conditions" aria-expanded={building} onClick={() => setBuilding(!building)}>
          <ActIcon act="open" />
        </PlainButton>
      </Hint>
      {(own || open) && !building && !told && (
        <ul
          id={list}
          role="listbox"
          aria-label="What may be written here"
          className={own ? 'options along' : 'options'}
        >
          {(open ? options : []).map((option, index) => (
            <li
              key={`${option.put} ${option.more}`}
              id={`${list}-${index}`}
              role="option"
              aria-selected={index === at}
              data-chosen={index === at || undefined}
              ref={index === at ? shown : undefined}
              onMouseDown={(event) => {
                event.preventDefault();
                take(option);
              }}
            >
              <span className="mono">{option.words}</span> <span className="quiet">{option.more}</span>
            </li>
          ))}
        </ul>
      )}
      {building && (
        <div className="builder">
          <FilterBuilder about={about} text={text} onChange={change} />
        </div>
      )}
      {told && (
        <div className="mistake" role="status">
          <span className="mono">{text}</span>
          <span className="mono" aria-hidden>{`${' '.repeat(told.at ?? 0)}^`}</span>
          {told.message}. Expected: {told.expected}.
        </div>
      )}
    </div>
  );
}

/** Brings what the arrows chose to where it can be seen. */
const shown = (element: HTMLElement | null) => element?.scrollIntoView({ block: 'nearest', inline: 'nearest' });

/** From what is looked for to what was found. */
const goToRows = () => document.querySelector<HTMLElement>('.work .table[role]')?.focus();

/** What is wrong with a filter of a thing, before anybody is asked. */
function mistakeIn(
  text: string,
  thing: ThingName,
  fieldsOf: FieldsOf,
): { message: string; at: number; expected: string } | null {
  const steps = [
    ...Object.entries(relatedThings[thing] ?? {}).map(([word, of]) => [word, fieldsOf(of)] as const),
    ...Object.entries(otherSteps[thing] ?? {}),
  ];
  const related = Object.fromEntries(steps.map(([word, fields]) => [word, { fields, of: () => [] }]));
  try {
    compileFilter<Record<string, unknown>>(
      parseFilter(text),
      [...fieldsOf(thing), { name: 'change', kind: 'text' }],
      related,
    );
    return null;
  } catch (error) {
    if (error instanceof FilterError) return error;
    throw error;
  }
}
