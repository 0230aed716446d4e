import { gapCodes } from '../estate/gap';
import * as yup from 'yup';
import { toldKinds } from '../estate/factKinds';
import { interfaceKinds } from '../estate/facts';
import type { ScopeText } from '../estate/scope';
import type { AddressHint, CollectedVisit } from '../estate/visit';
import type { Signature } from '../signatures/signature';

/** What collectors and server say to each other. Grows with every change that an older side would misunderstand. */
export const collectorProtocol = 2;
/** The oldest side that is still understood: its reports lack conversations, and say the rest as ours do. */
export const oldestProtocol = 1;

/** How a collector fares, told with every question for work. */
export interface CollectorLoad {
  /** addresses it has been given and has not asked yet */
  addresses: number;
  /** deliveries in its spool */
  spooled: number;
  spooledBytes: number;
  memoryBytes: number;
  /** share of one processor since the last question, 0 to 1 and more */
  processor: number;
}

export interface WorkQuestion {
  protocol: number;
  version: string;
  /** one-time public key (X25519, SPKI DER in base64) under which secrets are sent back */
  key: string;
  /** shares it is still at work on: whatever else it held is free again */
  inHand: number[];
  wants: boolean;
  load: CollectorLoad;
}

/** One part of a survey, with all that is needed to ask it. */
export interface WorkShare {
  share: number;
  survey: number;
  kind: 'wake' | 'ask';
  addresses: string[];
  scope: ScopeText;
  signatures: Signature[];
  /** of no use any more: where a device stands is told by the server; collectors of before want a list */
  siteRules: never[];
  hints: Record<string, AddressHint>;
  pinned: { address: string; port: number; fingerprint: string }[];
  /** credentials, sealed for the key of the question */
  credentials: string;
}

export interface WorkAnswer {
  share: WorkShare | null;
  /** surveys that are over: what is in hand of them need not be asked any more */
  over: number[];
}

/** A certificate that was seen: pinned at the first look, or another than the pinned one. */
export interface SeenCertificate {
  address: string;
  port: number;
  fingerprint: string;
  subject: string;
  as: 'pinned' | 'offered';
}

/** A number of visits, delivered together. Its id makes a second arrival harmless. */
export interface Delivery {
  protocol: number;
  id: string;
  survey: number;
  share: number;
  /** nothing more comes of this share */
  last: boolean;
  visits: CollectedVisit[];
  certificates: SeenCertificate[];
}

const words = () => yup.string().defined().max(2000);
const seconds = () =>
  yup.lazy((value: unknown) =>
    yup
      .object(
        value && typeof value === 'object'
          ? Object.fromEntries(Object.keys(value).map((name) => [name, yup.number().min(0).required()]))
          : {},
      )
      .required(),
  );
export const workQuestionSchema = yup
  .object({
    protocol: yup.number().integer().required(),
    version: yup.string().required().max(40),
    key: yup.string().required().max(200),
    inHand: yup.array(yup.number().integer().required()).max(1000).required(),
    wants: yup.boolean().required(),
    load: yup
      .object(
        Object.fromEntries(
          ['addresses', 'spooled', 'spooledBytes', 'memoryBytes', 'processor'].map((name) => [
            name,
            yup.number().min(0).required(),
          ]),
        ),
      )
      .noUnknown()
      .required(),
  })
  .noUnknown() as unknown as yup.Schema<WorkQuestion>;

const deliverySchema = yup
  .object({
    protocol: yup.number().integer().required(),
    id: yup.string().uuid().required(),
    survey: yup.number().integer().required(),
    share: yup.number().integer().required(),
    last: yup.boolean().required(),
    visits: yup
      .array(
        yup
          .object({
            address: yup.string().required().max(45),
            outcome: yup
              .object({
                outcome: yup.string().oneOf(['answered', 'partial', 'silent', 'alive', 'refused', 'failed']).required(),
                reason: words(),
                remedy: words(),
              })
              .noUnknown()
              .nullable()
              .defined(),
            credential: yup.string().defined().max(200),
            answers: yup
              .array(
                yup
                  .object({
                    kind: yup
                      .string()
                      .oneOf([...interfaceKinds])
                      .required(),
                    credential: yup.string().defined().max(200),
                    report: yup
                      .object({
                        device: yup
                          .object({ name: yup.string().defined(), address: yup.string().defined() })
                          .required(),
                        volatile: yup.object().required(),
                        portAges: yup.object().required(),
                        sightings: yup
                          .object({ forwarding: yup.array().required(), addresses: yup.array().required() })
                          .required(),
                        ...Object.fromEntries(
                          toldKinds.map(({ list, isOptional }) => [
                            list,
                            isOptional ? yup.array() : yup.array().required(),
                          ]),
                        ),
                      })
                      .noUnknown()
                      .required(),
                    parts: yup.object().required(),
                    told: yup.boolean(),
                  })
                  .noUnknown()
                  .required(),
              )
              .max(20_000)
              .required(),
            missing: yup
              .array(
                yup
                  .object({ part: words(), reason: words(), code: yup.string().oneOf(gapCodes) })
                  .noUnknown()
                  .required(),
              )
              .max(1000)
              .required(),
            phases: seconds(),
            milliseconds: yup.number().min(0).required(),
          })
          .noUnknown()
          .required(),
      )
      .max(10_000)
      .required(),
    certificates: yup
      .array(
        yup
          .object({
            address: yup.string().required().max(45),
            port: yup.number().integer().required(),
            fingerprint: yup.string().required().max(200),
            subject: yup.string().defined().max(500),
            as: yup.string().oneOf(['pinned', 'offered']).required(),
          })
          .noUnknown()
          .required(),
      )
      .max(10_000)
      .required(),
  })
  .noUnknown();

/** Checks what came from elsewhere, down to the lists of each report. @returns the delivery, or the first mistake with its place */
export function readDelivery(value: unknown): { delivery: Delivery } | { path: string; message: string } {
  try {
    return { delivery: deliverySchema.validateSync(value, { strict: true }) as unknown as Delivery };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    return { path: error.path ?? '', message: error.message };
  }
}
