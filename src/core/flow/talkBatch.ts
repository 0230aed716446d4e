import * as yup from 'yup';
import { addressOrNull } from '../values/ipAddress';
import type { ServerBasis, Talk } from './talk';

/** What agents at hosts and mirror ports send, and what they ask for first. */

/** So many conversations are sent at once: each is written in one piece. */
export const mostInBatch = 2000;
const mostHours = 2000;

/** A part of what was heard, under an id by which it counts once. */
export interface TalkBatch {
  id: string;
  /** where it was captured */
  point: string;
  everySeconds: number;
  /** since the agent began: packets heard, conversations too many to be counted, conversations held back */
  packets: number;
  overflowed: number;
  heldBack: number;
  talks: Talk[];
}

/** Who is known to listen where: address, IP protocol, port. */
export interface ListenersAnswer {
  survey: number;
  listeners: [address: string, protocol: number, port: number][];
}

const address = yup
  .string()
  .required()
  .test('address', 'must be an address', (text) => addressOrNull(text) === text);
const count = () => yup.number().integer().min(0).max(Number.MAX_SAFE_INTEGER).required();
const moment = () => yup.number().min(0).max(4e9).required();
const ways = () => yup.object({ toServer: count(), toClient: count() }).noUnknown().required();

export const talkBatchSchema = yup
  .object({
    id: yup
      .string()
      .required()
      .matches(/^[0-9a-zA-Z-]{8,80}$/, 'must be 8 to 80 letters, digits or -'),
    point: yup.string().trim().required().max(100),
    everySeconds: yup.number().integer().min(1).max(86_400).required(),
    packets: count(),
    overflowed: count(),
    heldBack: count(),
    talks: yup
      .array(
        yup
          .object({
            client: address,
            server: address,
            port: yup.number().integer().min(0).max(65_535).required(),
            protocol: yup.number().integer().min(0).max(255).required(),
            basis: yup.string<ServerBasis>().oneOf(['listener', 'opening', 'port']).required(),
            events: count(),
            packets: ways(),
            octets: ways(),
            firstSeen: moment(),
            lastSeen: moment(),
            hours: yup.array(yup.number().integer().min(0).max(2e6).required()).max(mostHours).required(),
          })
          .noUnknown()
          .required(),
      )
      .max(mostInBatch, `no more than ${mostInBatch} conversations at once`)
      .required(),
  })
  .noUnknown() as yup.Schema<TalkBatch>;
