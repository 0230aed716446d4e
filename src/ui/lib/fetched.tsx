'use client';

import dynamic from 'next/dynamic';
import { useEffect, useState, type ComponentType } from 'react';
import { againMs } from './api';

/** So often a part may fail to come though the application answers: then it is of a version that is gone. */
const mostFailures = 2;

/** Fetches a part of the program. While the application cannot be reached it is tried again: a part that did not come would take the page with it. @throws what is no matter of fetching */
async function patiently<Part>(load: () => Promise<Part>): Promise<Part> {
  for (let failures = 0; ;) {
    try {
      return await load();
    } catch (error) {
      if (typeof window === 'undefined' || (error as Error).name !== 'ChunkLoadError') throw error;
      if ((await isReachable()) && ++failures >= mostFailures)
        throw new Error('Bolide was renewed while this page was open: load it anew.');
      await new Promise((resolve) => setTimeout(resolve, againMs));
    }
  }
}

const isReachable = (): Promise<boolean> =>
  fetch('/api/v1/health').then(
    () => true,
    () => false,
  );

/** What takes longer than this is told. */
const noticedMs = 1500;

/** In place of what is being fetched: nothing, and words if it does not come. */
function Coming() {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), noticedMs);
    return () => clearTimeout(timer);
  }, []);
  return late ? (
    <p className="waiting coming" role="status">
      What was pressed is being fetched: the application does not answer. Trying again.
    </p>
  ) : null;
}

/**
 * A component that is fetched when it is first drawn: for what is opened by a press. The server does not draw it: by the time
 * it has come, what it shows is known, and would not be what the server drew.
 */
export const fetched = <Props extends object>(
  load: () => Promise<ComponentType<Props>>,
  loading: ComponentType = Coming,
): ComponentType<Props> => {
  const Loading = loading;
  return dynamic(() => patiently(load), { loading: () => <Loading />, ssr: false });
};
