/** What goes on beside requests, from the start of the application on. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs' || !process.env.BOLIDE_DATA) return;
  const { beginWork } = await import('./server/beginWork');
  beginWork();
}
