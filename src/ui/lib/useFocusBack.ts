'use client';

import { useEffect, useRef, type RefObject } from 'react';

/** What opened something in its own place gets the keys back once that is closed: its button was away meanwhile. */
export function useFocusBack(isOpen: boolean): RefObject<HTMLButtonElement | null> {
  const opener = useRef<HTMLButtonElement>(null);
  const was = useRef(isOpen);
  useEffect(() => {
    if (was.current && !isOpen) opener.current?.focus();
    was.current = isOpen;
  }, [isOpen]);
  return opener;
}
