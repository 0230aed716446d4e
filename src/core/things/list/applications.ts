import { term } from '../near';
import { thing } from '../thing';

export const applications = thing('applications', {
  title: 'Applications',
  singular: 'application',
  order: 'name',
  question: 'runs',
  hint: 'a name, owner or host; criticality=vital',
  pictures: ['criticality', 'owner', 'sites'],
  fields: [
    ['name', 'text', 'Name', 'Identity', 180, 's'],
    ['criticality', 'text', 'Criticality', 'Identity', 90, 'sv'],
    ['owner', 'text', 'Owner', 'People', 140, 's'],
    ['contacts', 'text', 'To tell', 'People', 180, 'l'],
    ['services', 'text', 'Services', 'Parts', 240, 'sl'],
    ['hosts', 'text', 'Hosts', 'Parts', 220, 'sl'],
    ['shared', 'text', 'Shares', 'Parts', 160, 'l'],
    ['sites', 'text', 'Sites', 'Parts', 100, 'sl'],
    ['partCount', 'number', 'Parts', 'Parts', 70, 's'],
    ['tiers', 'number', 'Tiers', 'Parts', 60],
    ['undecided', 'number', 'Not decided yet', 'Parts', 110, 's'],
    ['note', 'text', 'Note', 'Identity', 240],
  ],
  script: ['name', 'criticality', 'owner', 'contacts', 'services', 'hosts', 'shared', 'sites', 'tiers', 'note'],
  foundBy: [{ field: 'name', loosely: true }],
  words: ({ text }) => text('name'),
  near: ({ row }) => [
    [
      'its hosts',
      'devices',
      ((row.hosts as string[] | undefined) ?? [])
        .slice(0, 12)
        .map((host) => term('name', host))
        .join(' or ') || 'name=""',
    ],
  ],
});
