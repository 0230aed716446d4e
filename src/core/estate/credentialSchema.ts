import * as yup from 'yup';
import { approvalMistake } from './approval';
import { authProtocols, credentialKinds, credentialPurposes, privProtocols, type Credential } from './credential';

const purposeText = () =>
  yup
    .string()
    .oneOf(
      [...credentialPurposes],
      ({ value: given }) => `“${String(given)}” is no purpose: use ${credentialPurposes.join(' or ')}`,
    )
    .optional();

const notAPort = ({ value }: { value?: unknown }) => `${String(value)} is no port: they go from 1 to 65535`;
const password = (what: string) =>
  yup.string().required(`${what} is missing`).min(8, `${what} needs at least 8 characters (RFC 3414)`);

/** Where a secret may be sent. */
export const approvalSchema = yup
  .object({
    prefixes: yup
      .array(
        yup
          .string()
          .required()
          .max(100)
          .test(
            'range',
            ({ value }: { value?: unknown }) => approvalMistake(String(value)) ?? '',
            (value) => approvalMistake(value ?? '') === null,
          ),
      )
      .required()
      .max(500),
    ports: yup.array(yup.number().required().integer().min(1, notAPort).max(65_535, notAPort)).required().max(50),
  })
  .noUnknown();

/** Checks one credential, as a file or a form gives it. Unknown kinds and fields are refused. */
export const credentialSchema = yup.lazy((value: unknown) => {
  const kind = (value as { kind?: unknown } | null)?.kind;
  const common = {
    name: yup.string().trim().required('Give the credential a name').max(60),
    kind: yup
      .string()
      .oneOf(
        [...credentialKinds],
        ({ value: given }) => `“${String(given)}” is no kind of credential: use ${credentialKinds.join(', ')}`,
      )
      .required('kind is missing'),
    approved: approvalSchema.default(undefined).optional(),
  };
  if (kind === 'snmp1' || kind === 'snmp2c')
    return yup.object({ ...common, community: yup.string().required('The community is missing').max(255) }).noUnknown();
  if (kind === 'snmp3') {
    return yup
      .object({
        ...common,
        user: yup.string().required('The user is missing').max(32, 'A user name has at most 32 characters (RFC 3414)'),
        auth: yup
          .object({
            protocol: yup
              .string()
              .oneOf([...authProtocols])
              .required('The authentication protocol is missing'),
            password: password('The authentication password'),
          })
          .noUnknown()
          .default(undefined)
          .optional(),
        priv: yup
          .object({
            protocol: yup
              .string()
              .oneOf([...privProtocols])
              .required('The privacy protocol is missing'),
            password: password('The privacy password'),
          })
          .noUnknown()
          .default(undefined)
          .optional()
          .test(
            'needs-auth',
            'Privacy needs authentication too (RFC 3414)',
            (priv, context) => !priv || Boolean((context.parent as { auth?: unknown }).auth),
          ),
        context: yup.string().max(32).optional(),
        purpose: purposeText().test(
          'guarded',
          'A user who writes needs authentication and privacy',
          (purpose, context) =>
            purpose !== 'write' ||
            (Boolean((context.parent as { auth?: unknown }).auth) &&
              Boolean((context.parent as { priv?: unknown }).priv)),
        ),
      })
      .noUnknown();
  }
  if (kind === 'redfish' || kind === 'restconf' || kind === 'controller')
    return yup
      .object({
        ...common,
        user: yup.string().required('The user is missing'),
        password: yup.string().required('The password is missing'),
        purpose: purposeText(),
      })
      .noUnknown();
  return yup.object(common);
});

/** The credential, or every mistake with its path. */
export function readCredential(
  value: unknown,
): { credential: Credential } | { mistakes: { path: string; message: string }[] } {
  try {
    return { credential: credentialSchema.validateSync(value, { abortEarly: false, strict: true }) as Credential };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const list = error.inner.length > 0 ? error.inner : [error];
    return { mistakes: list.map(({ path, message }) => ({ path: path ?? '', message })) };
  }
}
