import * as yup from 'yup';
import { addressOrNull } from '../values/ipAddress';
import { line } from '../values/line';

export const criticalities = ['vital', 'high', 'moderate', 'low'] as const;
export type Criticality = (typeof criticalities)[number];

/** A host: a device, or only an address where nothing but talk tells of it; then the number is 0. */
export interface HostRef {
  deviceId: number;
  address: string;
}

/** The same host has the same key. */
export const hostKey = ({ deviceId, address }: HostRef): string => (deviceId > 0 ? String(deviceId) : address);

/** What an application is made of: a service by its process, on one host or wherever it talks with the rest of it; or a whole host. */
export type Member =
  | {
      kind: 'service';
      /** its process, or `tcp/443` where nobody tells one */
      service: string;
      /** null: every host on which it talks with the rest, or the one of the address */
      deviceId: number | null;
      /** of a host of which only the address is known */
      address?: string;
    }
  | { kind: 'device'; deviceId: number };

/** The host that a member is on; null for a service wherever it is. */
export const hostOf = (member: Member): HostRef | null =>
  member.kind === 'device'
    ? { deviceId: member.deviceId, address: '' }
    : member.deviceId !== null
      ? { deviceId: member.deviceId, address: '' }
      : member.address
        ? { deviceId: 0, address: member.address }
        : null;

/** What a person said of something that was proposed. */
export const verdicts = ['in', 'stop', 'shared', 'out'] as const;
/** `in`: part of it; `stop`: part of it, but what it asks is not gone after; `shared`: it needs it, and so do others; `out`: no part of it. */
export type MemberVerdict = (typeof verdicts)[number];

export interface MemberRule {
  member: Member;
  verdict: MemberVerdict;
}

/** So many of the services of one kind must go on; one, where nobody says otherwise. */
export interface NeededShare {
  service: string;
  atLeast: number;
}

/** What people put together as one application. */
export interface Application {
  name: string;
  owner: string;
  criticality: Criticality;
  /** whom to tell */
  contacts: string[];
  note: string;
  rules: MemberRule[];
  needed: NeededShare[];
}

const memberSchema = yup.lazy((value: { kind?: unknown } | undefined) =>
  value?.kind === 'device'
    ? yup
        .object({
          kind: yup.string().oneOf(['device']).required(),
          deviceId: yup.number().integer().min(1).required(),
        })
        .noUnknown()
        .required()
    : yup
        .object({
          kind: yup.string().oneOf(['service'], 'A member is a service or a device').required(),
          service: line('The service').max(200, 'A service has no more than 200 characters').required(),
          deviceId: yup.number().integer().min(1).nullable().defined(),
          address: yup
            .string()
            .test('address', '“${value}” is no address', (text) => text === undefined || addressOrNull(text) === text)
            .when('deviceId', {
              is: null,
              otherwise: (own) =>
                own.test('one', 'A member is on a device or at an address', (text) => text === undefined),
            }),
        })
        .noUnknown()
        .required(),
);

const mostRules = 2000;

export const applicationSchema = yup
  .object({
    name: line('The name').max(80, 'A name has no more than 80 characters').required('Give the application a name'),
    owner: line('The owner').max(120, 'An owner has no more than 120 characters').defined(),
    criticality: yup.string().oneOf(criticalities, 'Must be one of: ${values}').required('Say how critical it is'),
    contacts: yup
      .array(line('A contact').max(200, 'A contact has no more than 200 characters').required('A contact is empty'))
      .max(50, 'No more than 50 contacts')
      .required(),
    note: yup.string().max(4000, 'A note has no more than 4000 characters').defined(),
    rules: yup
      .array(
        yup
          .object({ member: memberSchema, verdict: yup.string().oneOf(verdicts).required() })
          .noUnknown()
          .required(),
      )
      .max(mostRules, `No more than ${mostRules} members`)
      .required(),
    needed: yup
      .array(
        yup
          .object({
            service: line('The service').max(200).required(),
            atLeast: yup.number().integer().min(1, 'At least one').max(1000).required(),
          })
          .noUnknown()
          .required(),
      )
      .max(100)
      .required(),
  })
  .noUnknown() as unknown as yup.Schema<Application>;

/** The same member has the same key. */
export function memberKey(member: Member): string {
  const host = hostOf(member);
  const place = host ? hostKey(host) : '*';
  return member.kind === 'device' ? `device ${place}` : `service ${place} ${member.service}`;
}
