import { planPrefixes } from '../../core/sites/planPrefixes';
import { siteRuleEdits, siteRulesKey } from '../../store/edits/sites';
import { readSiteRules } from '../../store/sites';
import { importWords, shownChanges, type ImportDomain } from '../imports/domain';

/** Sites by the prefixes of their networks, from the list that whoever plans addresses keeps. */
export const prefixImport: ImportDomain = {
  name: 'sites',
  title: 'Sites by prefix',
  one: 'prefix',
  many: 'prefixes',
  about:
    'A line for each prefix. A prefix in the file is of the site the file names; those that are not in it, and rules of names and locations, stay. New ones are asked before all others.',
  columns: [
    { name: 'site', isNeeded: true, about: 'as devices are to name it' },
    { name: 'prefix', isNeeded: true, about: 'like 10.72.4.0/24' },
  ],
  now: '',
  role: 'administrator',
  editable: siteRuleEdits,
  act: 'took sites from a file',
  plan: (store, _survey, head, lines, file) => {
    const before = readSiteRules(store.db);
    const plan = planPrefixes(head, lines, before);
    const added = plan.changes.filter((change) => change.before === null).length;
    const told = {
      named: plan.named,
      added,
      changed: plan.changes.length - added,
      same: plan.named - plan.changes.length,
      columns: ['Prefix'],
      changes: plan.changes.slice(0, shownChanges).map((change) => ({
        cells: [change.prefix],
        isNew: change.before === null,
        differs: [{ field: 'site', before: change.before ?? '', after: change.after }],
      })),
      notes: [],
      passedOver: plan.passedOver,
      mistakes: plan.mistakes,
    };
    const changes = plan.changes.length === 0 ? [] : [{ key: siteRulesKey, before, after: plan.rules }];
    return { told, changes, words: importWords(told, file) };
  },
};
