import type { Choice } from '../components/form/SelectInput';

/** Roles, and what each may. */
export const roleChoices: Choice[] = [
  { value: 'viewer', words: 'viewer: sees everything but credentials' },
  { value: 'operator', words: 'operator: also runs surveys, sets targets' },
  { value: 'administrator', words: 'administrator: also people and credentials' },
];
