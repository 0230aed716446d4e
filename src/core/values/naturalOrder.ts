const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** Orders names as people do: port 2 before port 10, letters without regard to case. */
export function compareNaturally(left: string, right: string): number {
  return collator.compare(left, right);
}
