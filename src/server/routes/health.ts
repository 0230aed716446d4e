/** Answers as soon as the application does. */
export function GET(): Response {
  return Response.json({ state: 'up' });
}
