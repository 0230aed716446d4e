import type { PersonRole } from '@/core/people/roles';

/** The parts of Settings, each at an address of its own. */
export const settingsSections = [
  { key: 'you', title: 'You', about: 'theme, password, where you are signed in', role: 'viewer' },
  { key: 'people', title: 'People', about: 'who may sign in, and what each may', role: 'viewer' },
  { key: 'tokens', title: 'API tokens', about: 'for scripts: made, used, revoked', role: 'viewer' },
  { key: 'mail', title: 'Mail', about: 'the server that takes what is written', role: 'administrator' },
  { key: 'sites', title: 'Sites', about: 'how it is told where a device is', role: 'viewer' },
  { key: 'fields', title: 'Own fields', about: 'what people fill in', role: 'viewer' },
  {
    key: 'lists',
    title: 'Lists from files',
    about: 'contracts, outlets, own fields and makers from CSV',
    role: 'operator',
  },
  { key: 'written', title: 'What was written', about: 'by whom, and the way back', role: 'viewer' },
  { key: 'readings', title: 'Readings', about: 'values to see over time', role: 'viewer' },
  { key: 'signatures', title: 'Signatures', about: 'how devices are recognised', role: 'viewer' },
  { key: 'backups', title: 'Backups', about: 'copies of the data, and when they are made', role: 'administrator' },
  { key: 'keeping', title: 'What is kept', about: 'for how long, and what it takes up', role: 'administrator' },
  { key: 'acts', title: 'What was done', about: 'every act, by whom and when', role: 'administrator' },
] as const satisfies readonly { key: string; title: string; about: string; role: PersonRole }[];

export type SectionKey = (typeof settingsSections)[number]['key'];
