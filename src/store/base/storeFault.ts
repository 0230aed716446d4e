/** The database refused: full, locked, broken. */
export function isStoreFault(error: unknown): boolean {
  return String((error as { code?: unknown } | null)?.code ?? '').startsWith('SQLITE_');
}

/** The database could not grow. */
export function isDiskFull(error: unknown): boolean {
  return isStoreFault(error) && (error as { code: string }).code === 'SQLITE_FULL';
}

/** Somebody else is writing, and went on for longer than was waited. */
export function isLocked(error: unknown): boolean {
  return isStoreFault(error) && (error as { code: string }).code.startsWith('SQLITE_BUSY');
}
