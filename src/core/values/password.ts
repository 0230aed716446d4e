/** Rules for the people who sign in. Length counts most (NIST SP 800-63B); what everybody tries first is refused. */
const tooUsual = [
  'password',
  'passwort',
  'administrator',
  'letmein',
  'changeme',
  'qwertyuiop',
  '1234567890',
  '0987654321',
];

export const passwordRule =
  'At least 10 characters; not your name, not one letter repeated, not one of the usual ones.';

/** What is wrong with a new password, or null. */
export function passwordMistake(password: string, name: string): string | null {
  if (password.length < 10) return 'The password needs at least 10 characters';
  if (password.length > 200) return 'The password may have 200 characters';
  if (name && password.toLowerCase().includes(name.toLowerCase()) && password.length < name.length + 6)
    return 'The password must not be your name';
  if (/^(.)\1*$/.test(password)) return 'The password must not be one character repeated';
  if (tooUsual.some((usual) => password.toLowerCase().replace(/[^a-z0-9]/g, '') === usual))
    return 'This password is one of the first that are tried';
  return null;
}

/** What is wrong with a person's name, or null. */
export function nameMistake(name: string): string | null {
  if (name.trim() === '') return 'Give a name';
  return /^[\p{L}\p{N}][\p{L}\p{N} ._@-]{0,59}$/u.test(name)
    ? null
    : 'A name has letters, digits, blanks and . _ @ - only, at most 60';
}
