import { RE2JS } from 're2js';

/**
 * A pattern that somebody wrote, held against text that somebody else wrote: in time that grows with the text alone, whatever the pattern (RE2: an
 * automaton instead of backtracking). So there is neither lookaround nor a back-reference. Large and small letters are the same.
 */
export class LinearPattern {
  readonly #pattern: RE2JS;
  readonly #hasValue: boolean;

  /** @throws Error where it is no such pattern, in words */
  constructor(text: string) {
    this.#pattern = RE2JS.compile(text, RE2JS.CASE_INSENSITIVE);
    this.#hasValue = 'value' in this.#pattern.namedGroups();
  }

  test(text: string): boolean {
    return this.#pattern.matcher(text).find();
  }

  /** What the group called `value`, or else the first group, holds; null where nothing fits, or where there is no group. */
  valueIn(text: string): string | null {
    const matcher = this.#pattern.matcher(text);
    if (!matcher.find() || matcher.groupCount() === 0) return null;
    return (this.#hasValue ? matcher.group('value') : matcher.group(1)) ?? null;
  }
}

const most = 500;
const known = new Map<string, LinearPattern>();

/** The pattern of a text, read once. @throws Error where it is none */
export function linearPattern(text: string): LinearPattern {
  const before = known.get(text);
  if (before) return before;
  const pattern = new LinearPattern(text);
  if (known.size >= most) known.clear();
  known.set(text, pattern);
  return pattern;
}

/** Why a text is no pattern that can be used, in words; null where it is one. */
export function patternMistake(text: string): string | null {
  try {
    linearPattern(text);
    return null;
  } catch (error) {
    const why = /error parsing regexp: (.*?)(?:: `|$)/.exec((error as Error).message)?.[1] ?? 'it cannot be read';
    return /\(\?<?[=!]|\\[1-9]/.test(text)
      ? `“${text}” uses what would take for ever on some texts: write it without lookaround and back-references`
      : `“${text}” is no regular expression: ${why}`;
  }
}
