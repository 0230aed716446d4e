'use client';

import { useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { parseFilter, FilterError } from '@/core/filter/syntax';
import type { ApiProblem } from './api';

/** The filter of a table: `/` goes there, Escape empties it, a mistake is shown at its place. */
export function FilterField({ value, onChange, problem, hint }: { value: string; onChange: (text: string) => void; problem?: ApiProblem | null; hint: string }) {
  const [text, setText] = useState(value);
  // what was typed comes back by the address of the page a moment later: only what others put there is taken over
  const sent = useRef(new Set<string>([value]));
  const latest = useRef(value);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const own = sent.current.has(value);
    if (own && value !== latest.current) return;
    sent.current = new Set([value]);
    latest.current = value;
    if (!own) setText(value);
  }, [value]);
  useHotkeys('/', (event) => {
    event.preventDefault();
    input.current?.focus();
    input.current?.select();
  }, { useKey: true });
  const change = (next: string) => {
    setText(next);
    sent.current.add(next);
    latest.current = next;
    onChange(next);
  };
  const mistake = localMistake(text) ?? problem?.errors.find(({ path }) => path === 'where') ?? null;
  return (
    <div className="filter">
      <input
        ref={input} type="text" spellCheck={false} autoComplete="off" aria-label="Filter" aria-keyshortcuts="/" aria-invalid={mistake ? true : undefined} placeholder={hint} value={text}
        onChange={(event) => change(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') {
            if (text) change('');
            else input.current?.blur();
          }
        }}
      />
      {text !== '' && <button type="button" aria-label="Empty the filter" onClick={() => change('')}>×</button>}
      {mistake && (
        <div className="mistake" role="status">
          <span className="mono">{text}</span>
          <span className="mono" aria-hidden>{`${' '.repeat(mistake.at ?? 0)}^`}</span>
          {mistake.message}. Expected: {mistake.expected}.
        </div>
      )}
    </div>
  );
}

function localMistake(text: string): { message: string; at: number; expected: string } | null {
  try {
    parseFilter(text);
    return null;
  } catch (error) {
    return error instanceof FilterError ? error : null;
  }
}
