import { eq } from 'drizzle-orm';
import type { DeviceFacts } from '../core/estate/facts';
import { FilterError } from '../core/filter/filterNode';
import type { Reading, ReadingRule } from '../core/signatures/reading';
import type { Db } from './base/database';
import { deviceFilter } from './deviceFilter';
import { setting } from './base/schema';

const key = 'readings';

export function readReadingRules(db: Db): ReadingRule[] {
  return (db.select().from(setting).where(eq(setting.key, key)).get()?.value as ReadingRule[] | undefined) ?? [];
}

/** In the order of their names; one of the same name is taken the place of. */
export function saveReadingRule(db: Db, rule: ReadingRule): void {
  keep(
    db,
    [...readReadingRules(db).filter(({ name }) => name !== rule.name), rule].sort((x, y) =>
      x.name.localeCompare(y.name),
    ),
  );
}

/** @returns false where there is none of that name */
export function deleteReadingRule(db: Db, name: string): boolean {
  const rules = readReadingRules(db);
  keep(
    db,
    rules.filter((rule) => rule.name !== name),
  );
  return rules.some((rule) => rule.name === name);
}

function keep(db: Db, value: ReadingRule[]): void {
  db.insert(setting).values({ key, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

/** Which devices a rule means. @throws FilterError */
export const meantBy = (
  db: Db,
  { where }: Pick<ReadingRule, 'where'>,
): ((deviceId: number, device: DeviceFacts) => boolean) => deviceFilter(db, where);

/** What is to be read of a device beside what its signature says. */
export function readingsWanted(db: Db): (deviceId: number, device: DeviceFacts) => Reading[] {
  const rules = readReadingRules(db).flatMap(({ where, ...reading }) => {
    try {
      return [{ reading, means: meantBy(db, { where }) }];
    } catch (error) {
      // a filter that was right when it was saved, and names a field or a group that is no more
      if (!(error instanceof FilterError)) throw error;
      return [];
    }
  });
  return (deviceId, device) => rules.flatMap(({ reading, means }) => (means(deviceId, device) ? [reading] : []));
}
