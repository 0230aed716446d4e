/** Parts of the API that a token may be bound to; each domain's routes belong to one. */
export const areaNames = [
  'estate',
  'surveys',
  'ports',
  'map',
  'dependencies',
  'agents',
  'knowledge',
  'checks',
  'firmware',
  'settings',
  'people',
] as const;
export type Area = (typeof areaNames)[number];

export const areaWords: Record<Area, string> = {
  estate: 'tables, dossiers, changes',
  surveys: 'surveys, scopes, credentials, collectors',
  ports: 'ports and acts on them',
  map: 'map, paths, floor plans',
  dependencies: 'rehearsals, suspects, service rules',
  agents: 'what capture agents at hosts ask and send',
  knowledge: 'contracts, groups, own fields, sites, imports',
  checks: 'checks and watches',
  firmware: 'releases and targets',
  settings: 'settings and readings',
  people: 'people, views, audit',
};
