import type { Advisory } from './advisory';
import { readCsaf } from './csaf';
import { readOsv } from './osv';
import { DocumentError, Shape } from './shape';

/** Reads a document as the standard it is written in says. @throws DocumentError */
export function readAdvisory(content: unknown): Advisory {
  const whole = new Shape(content);
  if (whole.at('document').at('csaf_version').isThere) return readCsaf(content);
  if (whole.at('id').isThere && whole.at('modified').isThere) return readOsv(content);
  throw new DocumentError('', 'is neither CSAF 2.0 (document.csaf_version) nor OSV (id and modified)');
}
