/**
 * The address as somebody wants it last. The router writes addresses back as it draws them, an earlier one over a later one for a moment: whoever reads the
 * bar of the browser then would lose what was pressed in between.
 */
let wanted: { path: string; search: string } | null = null;

if (typeof window !== 'undefined') window.addEventListener('popstate', () => (wanted = null));

/** The parameters of the page one is on, what was wanted last included. */
export const parametersNow = (): URLSearchParams =>
  new URLSearchParams(wanted?.path === window.location.pathname ? wanted.search : window.location.search);

/** Shows another view of the page. @param how whether one can go back to the view before */
export function showView(path: string, search: string, how: 'push' | 'replace'): void {
  wanted = { path, search };
  const href = search ? `${path}?${search}` : path;
  if (how === 'push') window.history.pushState(null, '', href);
  else window.history.replaceState(null, '', href);
}

/** Tells what is drawn: once it is what was wanted, or of another page, the bar is right again. */
export function isDrawn(path: string, search: string): void {
  if (wanted && (wanted.path !== path || wanted.search === search)) wanted = null;
}
