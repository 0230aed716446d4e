import { formsOf } from '../core/values/password';

/** Whether a password, or what it was made from, is one of those that are tried first. The list of them is large: it is read when it is needed. */
export async function isUsual(password: string): Promise<boolean> {
  const { usualList } = await import('./usualList');
  return formsOf(password).some((form) => usualList.has(form));
}
