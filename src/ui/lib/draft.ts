'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { usePerson } from './person';

/** What was written and not saved, and when. */
export interface Draft<Value> {
  at: string;
  value: Value;
}

const afterMs = 300;
const placeOf = (person: string, key: string) => `bolide.draft ${person} ${key}`;

/** What is kept in this browser under a name. A browser that keeps nothing is no reason to fail. */
function read<Value>(place: string): Draft<Value> | null {
  try {
    const text = localStorage.getItem(place);
    return text === null ? null : (JSON.parse(text) as Draft<Value>);
  } catch {
    return null;
  }
}

function write(place: string, text: string | null): void {
  try {
    if (text === null) localStorage.removeItem(place);
    else localStorage.setItem(place, text);
  } catch {
    // full, or forbidden: then it is only not offered again
  }
}

export interface KeptDraft<Value> {
  /** what was left here before, until somebody decides about it */
  left: Draft<Value> | null;
  /** keeps what is being written */
  keep: (value: Value) => void;
  /** it was saved, or nobody wants it */
  forget: () => void;
  /** it was taken up: it is not offered any more */
  takenUp: () => void;
}

/** Keeps what somebody writes, in their browser and under their name, until it is saved: whoever leaves by a key or a press is offered it again. @param key of what is written; null keeps nothing */
export function useDraft<Value>(key: string | null): KeptDraft<Value> {
  const { name } = usePerson();
  const place = key === null || name === '' ? null : placeOf(name, key);
  const [left, setLeft] = useState<Draft<Value> | null>(null);
  useEffect(() => setLeft(place === null ? null : read<Value>(place)), [place]);
  const waiting = useRef<{ timer: ReturnType<typeof setTimeout>; send: () => void } | null>(null);
  const drop = useCallback((send: boolean) => {
    if (!waiting.current) return;
    clearTimeout(waiting.current.timer);
    if (send) waiting.current.send();
    waiting.current = null;
  }, []);
  // what was written last is kept though the form, or the page, goes away at once
  useEffect(() => {
    const leave = () => drop(true);
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [drop]);
  const keep = useCallback(
    (value: Value) => {
      if (place === null) return;
      drop(false);
      const text = JSON.stringify({ at: new Date().toISOString(), value });
      const send = () => write(place, text);
      waiting.current = { send, timer: setTimeout(() => drop(true), afterMs) };
    },
    [place, drop],
  );
  const forget = useCallback(() => {
    drop(false);
    setLeft(null);
    if (place !== null) write(place, null);
  }, [place, drop]);
  const takenUp = useCallback(() => setLeft(null), []);
  return useMemo(() => ({ left, keep, forget, takenUp }), [left, keep, forget, takenUp]);
}
