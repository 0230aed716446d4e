import { dictionary } from '@zxcvbn-ts/language-common';

/** Passwords that are tried first, in small letters: a list that is kept by others. */
export const usualList: ReadonlySet<string> = new Set(dictionary['passwords-common'] as Iterable<string>);
