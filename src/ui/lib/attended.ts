/** How long after the last key or touch a page counts as left alone. */
const leftAloneMs = 5 * 60_000;

let lastAt = Date.now();
if (typeof window !== 'undefined')
  for (const kind of ['pointerdown', 'keydown', 'wheel'] as const)
    window.addEventListener(kind, () => (lastAt = Date.now()), { capture: true, passive: true });

/** Whether nobody is at this page: what it asks by itself keeps nobody signed in. */
export const isUnattended = (now = Date.now()): boolean => now - lastAt > leftAloneMs;
