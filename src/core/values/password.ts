/** Rules for the people who sign in. Length counts most (NIST SP 800-63B, 3.1.1.2); which are among the usual ones is judged where the list of them lies. */
export const passwordRule =
  'At least 10 characters; not your name, not one letter repeated, not one of the usual ones.';

/** What is wrong with a new password, or null. */
export function passwordMistake(password: string, name: string): string | null {
  if (password.length < 10) return 'The password needs at least 10 characters';
  if (password.length > 200) return 'The password may have 200 characters';
  if (name && password.toLowerCase().includes(name.toLowerCase()) && password.length < name.length + 6)
    return 'The password must not be your name';
  if (/^(.)\1*$/.test(password)) return 'The password must not be one character repeated';
  return null;
}

/**
 * The forms under which a password may stand in a list of usual ones (in small letters): as it is, without what stands between, and without the
 * few digits and signs that people add at an end.
 */
export function formsOf(password: string): string[] {
  const small = password.toLowerCase();
  const stem = small.replace(/^[^a-z]{0,6}/, '').replace(/[^a-z]{0,6}$/, '');
  const forms = [small, small.replace(/[^a-z0-9]/g, ''), ...(stem.length >= 6 ? [stem] : [])];
  return [...new Set(forms)].filter((form) => form !== '');
}

export const usualPassword = 'This password is one of the first that are tried';

/** What is wrong with a person's name, or null. */
export function nameMistake(name: string): string | null {
  if (name.trim() === '') return 'Give a name';
  return /^[\p{L}\p{N}][\p{L}\p{N} ._@-]{0,59}$/u.test(name)
    ? null
    : 'A name has letters, digits, blanks and . _ @ - only, at most 60';
}
