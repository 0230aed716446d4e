/**
 * The address as somebody wants it last. The router writes addresses back as it draws them, an earlier one over a later one for a moment: whoever reads the
 * bar of the browser then would lose what was pressed in between.
 */
let wanted: { path: string; search: string } | null = null;

const here = (): string => window.location.pathname + window.location.search;
/** The address that the browser's Back or Forward led to last. */
let cameBackTo: string | null = null;

if (typeof window !== 'undefined')
  window.addEventListener('popstate', () => {
    wanted = null;
    last = null;
    cameBackTo = here();
  });

/** Whether the browser's Back or Forward led here: what the address does not say was not so then. */
export const cameBackHere = (): boolean => cameBackTo === here();

/** The last step within a page: what was changed, and when. */
let last: { of: string; at: number } | null = null;
/** So soon after each other changes of the same thing are one step: a word as it is typed, rows as they are walked along. */
const oneStepMs = 1500;
/** How something is shown, not what: no step that anybody goes back to. */
const noSteps = new Set(['pins', 'columns', 'pictures']);

/**
 * Whether a change of the view is a step of its own, that the browser's Back undoes, or goes on with the one before.
 * @param names parameters that change
 * @param at milliseconds of any clock
 */
export function stepOf(names: readonly string[], at: number): 'push' | 'replace' {
  const steps = names.filter((name) => !noSteps.has(name));
  if (steps.length === 0) return 'replace';
  const of = steps.toSorted().join();
  const goesOn = last !== null && last.of === of && at - last.at < oneStepMs;
  last = { of, at };
  return goesOn ? 'replace' : 'push';
}

/** The parameters of the page one is on, what was wanted last included. */
export const parametersNow = (): URLSearchParams =>
  new URLSearchParams(wanted?.path === window.location.pathname ? wanted.search : window.location.search);

/** Shows another view of the page. @param how whether one can go back to the view before */
export function showView(path: string, search: string, how: 'push' | 'replace'): void {
  wanted = { path, search };
  cameBackTo = null;
  const href = search ? `${path}?${search}` : path;
  if (how === 'push') window.history.pushState(null, '', href);
  else window.history.replaceState(null, '', href);
}

/** Tells what is drawn: once it is what was wanted, or of another page, the bar is right again. */
export function isDrawn(path: string, search: string): void {
  if (wanted && (wanted.path !== path || wanted.search === search)) wanted = null;
}
