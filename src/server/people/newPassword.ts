import { nameMistake, passwordMistake, usualPassword } from '../../core/values/password';
import { isUsual } from '../../store/usualPasswords';

interface FieldMistake {
  path: string;
  message: string;
}

/** What is wrong with a password that somebody is to have, at its field. */
export async function passwordMistakes(password: string, name: string): Promise<FieldMistake[]> {
  const mistake = passwordMistake(password, name) ?? ((await isUsual(password)) ? usualPassword : null);
  return mistake === null ? [] : [{ path: 'password', message: mistake }];
}

/** What is wrong with a name that somebody is to have, at its field. */
export function nameMistakes(name: string): FieldMistake[] {
  const mistake = nameMistake(name);
  return mistake === null ? [] : [{ path: 'name', message: mistake }];
}
