/** What shows that somebody is there. */
const movements = ['pointermove', 'keydown', 'touchstart'] as const;

/** Fetches parts of the program once somebody moves: what they press next is there then, and nobody waits for it before. @returns how to let it be */
export function soon(...loads: (() => Promise<unknown>)[]): () => void {
  const fetchThem = () => {
    stop();
    // one that does not come now is fetched when it is wanted
    for (const load of loads) load().catch(() => undefined);
  };
  const stop = () => {
    for (const movement of movements) window.removeEventListener(movement, fetchThem, true);
  };
  for (const movement of movements) window.addEventListener(movement, fetchThem, { passive: true, capture: true });
  return stop;
}
