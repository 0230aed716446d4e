import * as yup from 'yup';
import { notFound } from '../access/problem';
import { route } from '../access/route';
import { acceptOffered } from '../../store/certificates';
import { recordAct } from '../../store/people';

const trustSchema = yup
  .object({ address: yup.string().required(), port: yup.number().integer().required() })
  .noUnknown();

/** Trusts the certificate that a device shows now. */
export const POST = route('administrator', trustSchema, ({ store, person, body: { address, port } }) => {
  const fingerprint = acceptOffered(store.db, address, port, new Date());
  if (fingerprint === null) throw notFound(`other certificate of ${address} port ${port}`);
  recordAct(store.db, person.name, 'trusted a certificate', `${address} port ${port} ${fingerprint}`);
  return { fingerprint };
});
