import { EditRefused } from '../../store/edits/editable';
import { StaleEditError } from '../../store/edits/log';
import { invalid, Problem } from './problem';

/** Why something was not written, told at its field; null for what is another error. @param isVersioned whether whoever writes said what they had seen */
export function editProblem(error: unknown, isVersioned: boolean): Problem | null {
  if (error instanceof StaleEditError) {
    const { message, stale, version } = error;
    const detail = `${message}: nothing was written. Look at both and choose.`;
    return new Problem(isVersioned ? 412 : 409, 'Changed meanwhile', detail, [], {}, { version, values: stale });
  }
  if (!(error instanceof EditRefused)) return null;
  const { message, path, title } = error;
  const errors = path === '' ? [] : [{ path, message }];
  return title === 'Taken' ? invalid(errors, message) : new Problem(409, title, message, errors);
}
