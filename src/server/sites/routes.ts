import { siteRulesSchema, deviceSiteSchema } from '../../core/sites/siteSchema';
import { siteRuleMistakes, type SiteRule } from '../../core/sites/siteRules';
import { editVersion } from '../../store/edits/log';
import { deviceSiteEdits, siteRuleEdits, siteRulesKey } from '../../store/edits/sites';
import { readDeviceSites, readSiteRules } from '../../store/sites';
import { invalid, notFound } from '../access/problem';
import { megabytes, route } from '../api/route';
import { written } from '../edits/written';
import { newestSurvey } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

/** @throws Problem with each mistake at its place */
function examined(given: { rules: { of: string; pattern: string; site: string }[] }): SiteRule[] {
  const rules = given.rules as SiteRule[];
  const mistakes = siteRuleMistakes(rules);
  if (mistakes.length > 0) throw invalid(mistakes);
  return rules;
}

/** Where devices stand: rules that tell it, and sites set by hand. */
export const siteRoutes = [
  route({
    method: 'GET',
    path: '/sites',
    role: 'viewer',
    summary: 'Rules by which sites are told, in the order in which they are asked, and sites set by hand',
    run: ({ store }) => {
      const version = editVersion(store.db);
      const byHand = Array.from(readDeviceSites(store.db), ([deviceId, site]) => ({ deviceId, site }));
      return { rules: readSiteRules(store.db), byHand, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/sites',
    role: 'administrator',
    summary: 'Set the rules by which sites are told: they hold at once, for past surveys too',
    body: siteRulesSchema,
    largest: megabytes(1),
    versioned: true,
    run: (call) => {
      const after = examined(call.body);
      const changes = [{ key: siteRulesKey, before: readSiteRules(call.store.db), after }];
      const words = after.length === 1 ? 'one rule' : `${after.length} rules`;
      const { edit, version } = written(call, siteRuleEdits, { act: 'set the rules of sites', words, changes });
      return { edit, version };
    },
  }),
  route({
    method: 'POST',
    path: '/sites/preview',
    role: 'operator',
    summary: 'What rules would give, rule by rule, and which devices would stand elsewhere; nothing is saved',
    body: siteRulesSchema,
    largest: megabytes(1),
    run: ({ store, body }) => tableAnswers(store).ask('sitePreview', newestSurvey(store), examined(body)),
  }),
  route({
    method: 'PUT',
    path: '/devices/{id}/site',
    role: 'operator',
    summary: 'Set where a device stands, whatever the rules say; null leaves it to them',
    body: deviceSiteSchema,
    versioned: true,
    run: async (call) => {
      const { store, params, body } = call;
      const found = await tableAnswers(store).ask('thingDossier', 'devices', newestSurvey(store), params.id);
      if (!found) throw notFound(`device ${params.id}`);
      const before = deviceSiteEdits.read(store.db, params.id, '');
      const after = body.site === '' ? null : body.site;
      const words = `${String(found.row.name)}: ${after ?? 'as the rules say'}`;
      const changes = [{ key: params.id, before, after }];
      const { edit, version } = written(call, deviceSiteEdits, { act: 'set the site of a device', words, changes });
      return { edit, version };
    },
  }),
];
