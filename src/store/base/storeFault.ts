/** The database refused: full, locked, broken. */
export function isStoreFault(error: unknown): boolean {
  return String((error as { code?: unknown } | null)?.code ?? '').startsWith('SQLITE_');
}

/** There was no room: the database could not grow, nor what lies beside it. */
export function isDiskFull(error: unknown): boolean {
  const code = String((error as { code?: unknown } | null)?.code ?? '');
  return ['SQLITE_FULL', 'SQLITE_IOERR_SHMSIZE', 'ENOSPC'].includes(code);
}

/** Somebody else is writing, and went on for longer than was waited. */
export function isLocked(error: unknown): boolean {
  return isStoreFault(error) && (error as { code: string }).code.startsWith('SQLITE_BUSY');
}
