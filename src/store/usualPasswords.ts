import { formsOf } from '../core/values/password';

let known: Promise<ReadonlySet<string>> | undefined;

/** The list of passwords that are tried first, read when it is needed. */
const list = (): Promise<ReadonlySet<string>> =>
  (known ??= import('@zxcvbn-ts/language-common').then(
    ({ dictionary }) => new Set(dictionary['passwords-common'] as Iterable<string>),
  ));

/** Whether a password, or what it was made from, is one of those that are tried first. */
export async function isUsual(password: string): Promise<boolean> {
  const usual = await list();
  return formsOf(password).some((form) => usual.has(form));
}
