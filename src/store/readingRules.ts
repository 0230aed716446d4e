import { eq } from 'drizzle-orm';
import type { DeviceFacts } from '../core/estate/facts';
import { FilterError, parseFilter } from '../core/filter/syntax';
import { compileFilter } from '../core/filter/predicate';
import type { Reading, ReadingRule } from '../core/signatures/reading';
import { things } from '../core/things/fields';
import type { Db } from './database';
import { setting } from './schema';

const key = 'readings';

export function readReadingRules(db: Db): ReadingRule[] {
  return (db.select().from(setting).where(eq(setting.key, key)).get()?.value as ReadingRule[] | undefined) ?? [];
}

/** In the order of their names; one of the same name is taken the place of. */
export function saveReadingRule(db: Db, rule: ReadingRule): void {
  keep(db, [...readReadingRules(db).filter(({ name }) => name !== rule.name), rule].sort((x, y) => x.name.localeCompare(y.name)));
}

/** @returns false where there is none of that name */
export function deleteReadingRule(db: Db, name: string): boolean {
  const rules = readReadingRules(db);
  keep(db, rules.filter((rule) => rule.name !== name));
  return rules.some((rule) => rule.name === name);
}

function keep(db: Db, value: ReadingRule[]): void {
  db.insert(setting).values({ key, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

/** What a device is, not how it fares: a rule is looked at before anybody is asked. */
const rulable = new Set<string>(['name', 'site', 'role', 'vendor', 'family', 'model', 'serial', 'release', 'bootRelease', 'address', 'addresses', 'objectId', 'description', 'contact', 'location', 'memoryBytes', 'flashBytes'] satisfies (keyof DeviceFacts)[]);
const fields = things.devices.fields.filter(({ name }) => rulable.has(name));

/** Which devices a rule means, by the facts that are kept of them. @throws FilterError */
export function meantBy({ where }: Pick<ReadingRule, 'where'>): (device: DeviceFacts) => boolean {
  return compileFilter<DeviceFacts>(parseFilter(where), fields);
}

/** What is to be read of a device beside what its signature says. */
export function readingsWanted(db: Db): (device: DeviceFacts) => Reading[] {
  const rules = readReadingRules(db).flatMap(({ where, ...reading }) => {
    try {
      return [{ reading, means: meantBy({ where }) }];
    } catch (error) {
      // a filter that was right when it was saved, and names a field that is no more
      if (!(error instanceof FilterError)) throw error;
      return [];
    }
  });
  return (device) => rules.flatMap(({ reading, means }) => (means(device) ? [reading] : []));
}
