/** What goes on beside requests, from the start of the application on: checks are judged whenever a survey was sealed. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs' || !process.env.BOLIDE_DATA) return;
  const [{ keepJudging }, { webStore }] = await Promise.all([
    import('./server/checks/keepJudging'),
    import('./server/access/store'),
  ]);
  keepJudging(webStore());
}
