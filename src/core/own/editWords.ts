import type { OwnedThing, OwnField } from './ownField';

/** What was written, in a line: `owner, asset number of 63 devices`, `notes of sgh-core-1`. @param changes one for each value written, with the row it stands at */
export function editWords(
  known: readonly OwnField[],
  thing: OwnedThing,
  fields: readonly string[],
  changes: readonly { id: string; row: string }[],
): string {
  const labels = fields
    .map((name) => known.find((field) => field.thing === thing && field.name === name)?.label ?? name)
    .map((label) => (/^[A-Z]{2}/.test(label) ? label : label.toLowerCase()));
  const rows = new Map(changes.map(({ id, row }) => [id, row]));
  const [only] = rows.values();
  return `${labels.join(', ')} of ${rows.size === 1 && only !== undefined ? only : `${rows.size} ${thing}`}`;
}
