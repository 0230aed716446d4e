import { expect, test } from '@jest/globals';
import { ValidationError } from 'yup';
import { applicationSchema, memberKey, type Member } from './application';

const withMember = (member: object) => ({
  name: 'Ticketing',
  owner: '',
  criticality: 'vital',
  contacts: [],
  note: '',
  rules: [{ member, verdict: 'in' }],
  needed: [],
});
const faults = (member: object): string[] => {
  try {
    applicationSchema.validateSync(withMember(member), { abortEarly: false, strict: true });
    return [];
  } catch (fault) {
    if (!(fault instanceof ValidationError)) throw fault;
    return fault.errors;
  }
};

test('a member is a service wherever it is, on a device or at an address, or a whole device', () => {
  const members: Member[] = [
    { kind: 'service', service: 'fareweb', deviceId: null },
    { kind: 'service', service: 'fareweb', deviceId: 12 },
    { kind: 'service', service: 'tcp/8443', deviceId: null, address: '10.72.42.11' },
    { kind: 'service', service: 'tcp/8443', deviceId: null, address: '2001:db8::1' },
    { kind: 'device', deviceId: 12 },
  ];
  for (const member of members) expect([member, faults(member)]).toEqual([member, []]);
  expect(new Set(members.map(memberKey)).size).toBe(members.length);
});

test('what is no address, or an address beside a device, is refused at its place', () => {
  const at = (address: string, deviceId: number | null = null) =>
    faults({ kind: 'service', service: 'tcp/8443', deviceId, address });
  expect(at('10.72.42')).toEqual(['“10.72.42” is no address']);
  expect(at('2001:DB8::1')).toEqual(['“2001:DB8::1” is no address']);
  expect(at('10.72.42.11', 12)).toEqual(['A member is on a device or at an address']);
});
