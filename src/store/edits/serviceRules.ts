import { eq } from 'drizzle-orm';
import type { ServiceRule } from '../../core/services/serviceRule';
import { serviceRule } from '../base/schema';
import { ownServiceRules } from '../serviceRules';
import { oneByOne, type Editable } from './editable';

/** Rules by which services are recognised, as people write them, in the log of edits. */
export const serviceRuleEdits: Editable<ServiceRule> = {
  kind: 'serviceRules',
  one: 'service rule',
  many: 'service rules',
  role: 'operator',
  called: ({ name, id }) => `${name} (${id})`,
  read: (db, key) => ownServiceRules(db).find(({ id }) => id === key) ?? null,
  write: oneByOne((db, key, after) => {
    if (after === null) {
      db.delete(serviceRule)
        .where(eq(serviceRule.id, key ?? ''))
        .run();
      return key ?? '';
    }
    const { id, ...content } = after;
    db.insert(serviceRule)
      .values({ id, content })
      .onConflictDoUpdate({ target: serviceRule.id, set: { content } })
      .run();
    return id;
  }),
};
