'use client';

import { useCallback, useState } from 'react';

/** How wide what holds an element is, in pixels; null until it was measured. */
export function useRoom(): [number | null, (element: Element | null) => (() => void) | undefined] {
  const [room, setRoom] = useState<number | null>(null);
  const measured = useCallback((element: Element | null) => {
    const around = element?.parentElement;
    if (!around) return undefined;
    const observer = new ResizeObserver(([entry]) => entry && setRoom(Math.floor(entry.contentRect.width)));
    observer.observe(around);
    return () => observer.disconnect();
  }, []);
  return [room, measured];
}
