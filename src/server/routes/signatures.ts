import type { Schema } from 'yup';
import type { Signature } from '../../core/signatures/signature';
import { signatureSchema } from '../../core/signatures/signatureSchema';
import { route } from '../access/route';
import { signatureList } from '../signatures';
import { recordAct } from '../../store/people';
import { saveSignature } from '../../store/programFiles';

export const GET = route('viewer', null, ({ store }) => signatureList(store));

/** Saves a signature beside the data; it takes the place of the program's own of that id, from the next survey on. */
export const POST = route(
  'administrator',
  signatureSchema as unknown as Schema<Signature>,
  ({ store, person, body }) => {
    saveSignature(store.folder, body);
    recordAct(store.db, person.name, 'saved a signature', body.id);
    return { id: body.id };
  },
);
