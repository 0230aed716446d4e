import { changedFields, type FieldChange } from '../estate/difference';
import { factKinds } from '../estate/factKinds';
import type { Thing } from './thing';
import { thingOfWord, things } from './things';

/** What a fact shows beside what it holds, by the word of its kind. */
const shownOf = new Map(
  factKinds.flatMap(({ changes }) => (changes?.shown ? [[changes.word, changes.shown] as const] : [])),
);

/**
 * In which fields a thing differs from itself at another moment: those that its descriptor calls compared, and no others. Tables that mark what changed, the list of
 * changes, Today, the time strip and dossiers all ask here, so that they count alike.
 * @param word by which changes are told of it
 */
export function differencesOf(word: string): (before: object, now: object) => FieldChange[] {
  const name = thingOfWord.get(word);
  const { fields = [], comparedBy = {} }: Partial<Thing> = name ? things[name] : {};
  const compared = fields
    .filter((field) => field.compared)
    .map((field) => [field.name, comparedBy[field.name] ?? field.name] as const);
  const shown = shownOf.get(word);
  const seen = (content: object): Record<string, unknown> => {
    const whole: Record<string, unknown> = { ...content, ...shown?.(content as never) };
    return Object.fromEntries(compared.map(([field, by]) => [field, whole[by]]));
  };
  return (before, now) => changedFields(seen(before), seen(now));
}

/** One change of a thing, as far as it says how that differs. */
interface Told {
  thing: string;
  thingId: string;
  kind: 'added' | 'removed' | 'changed' | 'replaced' | 'silent';
}

const rank = { changed: 0, silent: 1, replaced: 2, removed: 3, added: 3 };

/** How each of the things of a word differs, by its id: another chassis outweighs silence, and that a changed field. */
export function kindsOfChange(changes: readonly Told[], word: string): Map<string, Told['kind']> {
  const kinds = new Map<string, Told['kind']>();
  for (const { thing, thingId, kind } of changes) {
    const known = kinds.get(thingId);
    if (thing === word && (known === undefined || rank[kind] > rank[known])) kinds.set(thingId, kind);
  }
  return kinds;
}
