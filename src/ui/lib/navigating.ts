import { useSyncExternalStore } from 'react';

/** What is being opened: the address, and whether the application does not answer. */
export interface Opening {
  path: string;
  waits: boolean;
}

/** What takes longer than this is told; what is there sooner would only flicker. */
const noticedMs = 120;
const againMs = 1000;

let opening: Opening | null = null;
const listeners = new Set<() => void>();
const under = new Set<symbol>();

function show(next: Opening | null): void {
  if (opening?.path === next?.path && opening?.waits === next?.waits) return;
  opening = next;
  for (const listener of listeners) listener();
}

/** A page that the router asks for because somebody pressed something: not one that is fetched ahead. */
function pageAsked(input: RequestInfo | URL, init: RequestInit | undefined): URL | null {
  const headers = new Headers(init?.headers ?? (input instanceof Request ? input.headers : undefined));
  if (!headers.has('rsc') || headers.has('next-router-prefetch')) return null;
  return new URL(input instanceof Request ? input.url : String(input), window.location.href);
}

/**
 * Pages of the router are asked for until they come: where the application cannot be reached the frame stays as it is and says what it waits for,
 * instead of giving way to the error page of the browser.
 */
function watchPages(): void {
  const plain = window.fetch.bind(window);
  window.fetch = async (input, init) => {
    const page = pageAsked(input, init);
    if (!page) return plain(input, init);
    const one = Symbol(page.pathname);
    under.add(one);
    const timer = setTimeout(() => under.has(one) && show({ path: page.pathname, waits: false }), noticedMs);
    try {
      for (;;) {
        try {
          return await plain(input, init);
        } catch (error) {
          if ((error as Error).name === 'AbortError') throw error;
          show({ path: page.pathname, waits: true });
          await new Promise((resolve) => setTimeout(resolve, againMs));
        }
      }
    } finally {
      clearTimeout(timer);
      under.delete(one);
      if (under.size === 0) show(null);
    }
  };
}

if (typeof window !== 'undefined') watchPages();

export const useOpening = (): Opening | null =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => opening,
    () => null,
  );
