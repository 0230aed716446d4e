import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { asc } from 'drizzle-orm';
import { serviceRuleSchema, type ServiceRule } from '../core/services/serviceRule';
import type { Db } from './base/database';
import { programFolder } from './base/programFolder';
import { serviceRule } from './base/schema';

let delivered: ServiceRule[] | null = null;

/** The rules of the program's own data files. @throws Error naming the file where one is no rule */
export function deliveredServiceRules(): ServiceRule[] {
  if (delivered) return delivered;
  const folder = path.join(programFolder(), 'services');
  return (delivered = readdirSync(folder)
    .filter((file) => file.endsWith('.json'))
    .sort()
    .flatMap((file) => {
      const rules = JSON.parse(readFileSync(path.join(folder, file), 'utf8')) as unknown[];
      return rules.map((rule) => {
        try {
          return serviceRuleSchema.validateSync(rule, { strict: false });
        } catch (error) {
          const id = (rule as { id?: unknown }).id;
          throw new Error(`${file}: rule ${JSON.stringify(id)}: ${(error as Error).message}`, { cause: error });
        }
      });
    }));
}

/** The rules that people wrote. */
export const ownServiceRules = (db: Db): ServiceRule[] =>
  db
    .select()
    .from(serviceRule)
    .orderBy(asc(serviceRule.id))
    .all()
    .map(({ id, content }) => ({ ...(content as Omit<ServiceRule, 'id'>), id }));

/** All rules; one of a person with the same id takes the place of the program's. */
export function readServiceRules(db: Db): ServiceRule[] {
  const byId = new Map(deliveredServiceRules().map((rule) => [rule.id, rule]));
  for (const rule of ownServiceRules(db)) byId.set(rule.id, rule);
  return [...byId.values()];
}
