import { route } from '../access/route';
import { changedCertificates } from '../../store/certificates';

/** Certificates that are another than when they were first seen. */
export const GET = route('operator', null, ({ store }) => {
  const rows = changedCertificates(store.db);
  return { rows, total: rows.length };
});
