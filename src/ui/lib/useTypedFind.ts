'use client';

import { useEffect, useRef, useState } from 'react';
import { useView } from './useView';

/** So long after the last letter what is looked for is asked. */
const waitMs = 130;

/** What is looked for on a page: in its address a moment after it was typed, and typed anew by the browser's back and forward. */
export function useTypedFind(): [string, (text: string) => void] {
  const view = useView();
  const { set } = view;
  const inAddress = view.find ?? '';
  const [text, setText] = useState(inAddress);
  const typed = useRef(inAddress);
  useEffect(() => {
    if (inAddress !== typed.current) setText(inAddress);
    typed.current = inAddress;
  }, [inAddress]);
  useEffect(() => {
    const wanted = text.trim();
    if (wanted === typed.current) return undefined;
    const timer = setTimeout(() => {
      typed.current = wanted;
      set({ find: wanted });
    }, waitMs);
    return () => clearTimeout(timer);
  }, [text, set]);
  return [text, setText];
}
