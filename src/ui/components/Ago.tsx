'use client';

import { useEffect, useReducer } from 'react';
import { ago } from '../lib/format';

/** How long ago something was, and stays true while one looks at it. */
export function Ago({ at }: { at: string }) {
  const [, again] = useReducer((count: number) => count + 1, 0);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>;
    const wait = () => {
      // seconds count at first, then minutes
      const isYoung = Date.now() - Date.parse(at) < 60_000;
      timer = setTimeout(
        () => {
          again();
          wait();
        },
        isYoung ? 1000 : 20_000,
      );
    };
    wait();
    return () => clearTimeout(timer);
  }, [at]);
  return <>{ago(at)}</>;
}
