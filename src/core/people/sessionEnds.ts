/** How long somebody stays signed in: while they are at it, and at most so long (OWASP ASVS 4.0, 3.3.2). */
export const idleMs = 12 * 3_600_000;
export const longestMs = 7 * 86_400_000;
/** To which accuracy it is kept when somebody was last at it. */
export const usedToMs = 10 * 60_000;

/** Whether a session is over. @param now in milliseconds since 1970 */
export const isOver = ({ createdAt, usedAt }: { createdAt: string; usedAt: string }, now: number): boolean =>
  now - Date.parse(createdAt) >= longestMs || now - Date.parse(usedAt) >= idleMs + usedToMs;
