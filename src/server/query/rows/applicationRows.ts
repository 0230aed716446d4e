import { compareNaturally } from '../../../core/values/naturalOrder';
import { readApplications } from '../../../store/applications';
import { assembledFrom, servingAt } from '../../dependencies/serving';
import type { Builder } from './rowBuilder';

const distinct = (texts: readonly string[]): string[] => [...new Set(texts.filter(Boolean))].sort(compareNaturally);

/** What people put together as applications, as it stands at a survey. */
export const applications: Builder = ({ db, survey, talk }, other) => {
  const all = readApplications(db);
  if (all.length === 0) return [];
  const serving = servingAt(db, survey, other('services'), talk(), other('endpoints'));
  return all.map(({ id, rules: _rules, needed: _needed, ...told }) => {
    const application = all.find((one) => one.id === id);
    const { parts, proposals } = application ? assembledFrom(application, serving) : { parts: [], proposals: [] };
    const own = parts.filter(({ verdict }) => verdict !== 'shared');
    return {
      id: String(id),
      ...told,
      services: distinct(own.map(({ service }) => service)),
      hosts: distinct(own.map(({ device }) => device)),
      hostIds: [...new Set(own.flatMap(({ deviceId }) => (deviceId > 0 ? [deviceId] : [])))],
      shared: distinct(
        parts.filter(({ verdict }) => verdict === 'shared').map(({ service, device }) => `${service} on ${device}`),
      ),
      sites: distinct(own.map(({ site }) => site)),
      partCount: own.length,
      tiers: own.length === 0 ? 0 : Math.max(...own.map(({ tier }) => tier)) + 1,
      undecided: proposals.length,
    };
  });
};
