import type { FileMistake } from './fileMistake';

/** Prefixes as the registries give them: 24, 28 or 36 bits. */
const lengths = new Set([6, 7, 9]);

/**
 * A list of makers by the prefixes of their MACs: columns `prefix` (24, 28 or 36 bits as hexadecimal digits, in any notation) and `maker` or `name`.
 * @returns prefixes as bare lower-case digits; none where anything is wrong
 */
export function readMakerPrefixes(
  head: string[],
  lines: { line: number; cells: string[] }[],
): { makers: { prefix: string; name: string }[]; mistakes: FileMistake[] } {
  const names = head.map((name) => name.trim().toLowerCase());
  const prefixAt = names.indexOf('prefix');
  const nameAt = names.findIndex((name) => name === 'maker' || name === 'name');
  const mistakes: FileMistake[] = [];
  if (prefixAt < 0) mistakes.push({ line: 1, column: '', message: 'No column “prefix”' });
  if (nameAt < 0) mistakes.push({ line: 1, column: '', message: 'No column “maker”' });
  const makers = new Map<string, { name: string; line: number }>();
  for (const { line, cells } of mistakes.length > 0 ? [] : lines) {
    const written = (cells[prefixAt] ?? '').trim();
    const prefix = written.toLowerCase().replace(/[:.\s-]/g, '');
    const name = (cells[nameAt] ?? '').trim();
    if (!/^[0-9a-f]+$/.test(prefix) || !lengths.has(prefix.length))
      mistakes.push({
        line,
        column: head[prefixAt] ?? '',
        message: `“${written}” is no prefix of 6, 7 or 9 hexadecimal digits`,
      });
    if (name === '') mistakes.push({ line, column: head[nameAt] ?? '', message: 'names no maker' });
    const before = makers.get(prefix);
    if (before && before.name !== name)
      mistakes.push({
        line,
        column: head[prefixAt] ?? '',
        message: `${written} is of “${before.name}” in line ${before.line}`,
      });
    else if (!before) makers.set(prefix, { name, line });
  }
  return { makers: mistakes.length > 0 ? [] : [...makers].map(([prefix, { name }]) => ({ prefix, name })), mistakes };
}
