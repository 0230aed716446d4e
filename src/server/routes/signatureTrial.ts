import type { Schema } from 'yup';
import type { Signature } from '../../core/signatures/signature';
import { signatureSchema } from '../../core/signatures/signatureSchema';
import { route } from '../access/route';
import { trySignature } from '../signatures';

/** What a signature would make of the devices that are known; nothing is saved. */
export const POST = route('operator', signatureSchema as unknown as Schema<Signature>, ({ store, body }) =>
  trySignature(store, body),
);
