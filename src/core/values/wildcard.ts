/**
 * A test of texts by a pattern in which each `*` stands for any letters, none included; case is nothing. Takes time by the length of the text alone, whatever the pattern.
 * @param loose the pattern may begin and end anywhere within the text
 */
export function wildcard(pattern: string, loose = false): (text: string) => boolean {
  const parts = pattern.toLowerCase().split('*');
  const first = loose ? '' : (parts.shift() ?? '');
  const last = loose || parts.length === 0 ? null : (parts.pop() ?? '');
  return (given) => {
    const text = given.toLowerCase();
    if (!loose && last === null) return text === first;
    if (!text.startsWith(first)) return false;
    let at = first.length;
    for (const part of parts) {
      const found = text.indexOf(part, at);
      if (found < 0) return false;
      at = found + part.length;
    }
    return last === null || (text.length - last.length >= at && text.endsWith(last));
  };
}
