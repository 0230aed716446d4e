import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { MemberRule } from './application';
import { assemble, memberOf, tiersOf, type Instance, type InstanceTalk } from './assemble';

const instance = (service: string, deviceId: number, kind: Instance['kind'] = ''): Instance => ({
  deviceId,
  address: '',
  device: `host-${deviceId}`,
  site: '',
  service,
  called: '',
  kind,
});
const talk = (from: [string, number], to: [string, number]): InstanceTalk => ({
  client: { service: from[0], deviceId: from[1], address: '' },
  server: { service: to[0], deviceId: to[1], address: '' },
  proof: 'seen',
});
const instances = [
  instance('web', 1),
  instance('web', 2),
  instance('db', 3),
  instance('db', 4),
  instance('names', 5, 'name'),
  instance('portal', 6),
  instance('web', 9),
];
const talks = [
  talk(['web', 1], ['db', 3]),
  talk(['web', 2], ['db', 3]),
  talk(['db', 3], ['db', 4]),
  talk(['web', 1], ['names', 5]),
  talk(['portal', 6], ['web', 1]),
];
const rule = (service: string, deviceId: number | null, verdict: MemberRule['verdict'] = 'in'): MemberRule => ({
  member: { kind: 'service', service, deviceId },
  verdict,
});
const names = (list: readonly { service: string; deviceId: number }[]) =>
  list.map(({ service, deviceId }) => `${service} ${deviceId}`);

test('a round proposes what parts talk with, with the evidence; what is for everybody as shared', () => {
  const { parts, proposals } = assemble({ rules: [rule('web', 1)] }, instances, talks);
  expect(names(parts)).toEqual(['web 1']);
  expect(proposals.map(({ name, direction, suggested }) => [name, direction, suggested])).toEqual([
    ['db on host-3', 'asked', 'in'],
    ['names on host-5', 'asked', 'shared'],
    ['portal on host-6', 'asks', 'in'],
  ]);
  expect(proposals[0]?.evidence).toEqual(['web on host-1 asks it: seen']);
});

test('a host of which only the address is known is proposed, and is a part as others are; many at one port are decided together', () => {
  const at = (last: number) => ({ deviceId: 0, address: `10.72.42.${last}`, service: 'tcp/8443' });
  const unknown = (last: number): Instance => ({ ...instance('tcp/8443', 0), ...at(last), device: `10.72.42.${last}` });
  const asks = (last: number): InstanceTalk => ({
    client: { service: 'web', deviceId: 1, address: '' },
    server: at(last),
    proof: 'seen',
  });
  const one = assemble({ rules: [rule('web', 1)] }, [...instances, unknown(11)], [...talks, asks(11)]);
  const proposed = one.proposals.find(({ name }) => name === 'tcp/8443 on 10.72.42.11');
  expect(proposed?.member).toEqual({ kind: 'service', service: 'tcp/8443', deviceId: null, address: '10.72.42.11' });
  const taken = assemble(
    { rules: [rule('web', 1), { member: proposed?.member ?? rule('', 0).member, verdict: 'in' }] },
    // another at the same port is no part of it
    [...instances, unknown(11), unknown(12)],
    [...talks, asks(11)],
  );
  expect(taken.parts.map(({ address, device }) => address || device)).toEqual(['10.72.42.11', 'host-1']);
  expect(taken.talks).toHaveLength(1);
  const lasts = Array.from({ length: 9 }, (_, nth) => 11 + nth);
  const many = assemble(
    { rules: [rule('web', 1)] },
    [...instances, ...lasts.map(unknown)],
    [...talks, ...lasts.map(asks)],
  );
  const whole = many.proposals.filter(({ name }) => name.startsWith('tcp/8443'));
  expect(whole.map(({ name, member }) => [name, member])).toEqual([
    ['tcp/8443 on 9 hosts', { kind: 'service', service: 'tcp/8443', deviceId: null }],
  ]);
});

test('what is heard of a host whose process nobody tells joins its services with the rest, and is no news of its own', () => {
  const gateway: Instance = { ...instance('tcp/8443', 0), address: '10.72.42.11' };
  const heard: InstanceTalk = {
    client: { service: '', deviceId: 3, address: '' },
    server: { service: 'tcp/8443', deviceId: 0, address: '10.72.42.11' },
    proof: 'heard',
  };
  const {
    parts,
    proposals,
    talks: within,
  } = assemble(
    {
      rules: [
        rule('db', null),
        { member: { kind: 'service', service: 'tcp/8443', deviceId: null, address: '10.72.42.11' }, verdict: 'in' },
      ],
    },
    [...instances, instance('', 3), gateway],
    [...talks, heard],
  );
  expect(names(parts)).toEqual(['db 3', 'db 4', 'tcp/8443 0']);
  const without = assemble({ rules: [rule('db', 3)] }, [...instances, instance('', 3), gateway], [...talks, heard]);
  expect(
    without.proposals.find(({ member }) => 'address' in member && member.address === '10.72.42.11')?.evidence,
  ).toEqual(['something on host-3 asks it: heard']);
  expect(proposals.map(({ name }) => name)).not.toContain('something on host-3');
  const asked = (round: ReturnType<typeof assemble>) =>
    round.talks
      .filter(({ server }) => round.parts[server]?.service === 'tcp/8443')
      .map(({ client, proof }) => [round.parts[client]?.service, proof]);
  expect(asked({ parts, proposals, talks: within })).toEqual([['db', 'heard']]);
  // of two on the host either may be it
  const both = assemble(
    { rules: [rule('db', 3), rule('web', 3), { member: memberOf(gateway), verdict: 'in' }] },
    [...instances, instance('web', 3), instance('', 3), gateway],
    [...talks, heard],
  );
  expect(asked(both)).toEqual([
    ['db', 'heard (which of several there is not told)'],
    ['web', 'heard (which of several there is not told)'],
  ]);
  expect(both.parts.find(({ service }) => service === 'tcp/8443')?.tier).toBeGreaterThan(0);
});

test('what a person said holds: left out, stopped at and shared things propose nothing more', () => {
  const rules = [rule('web', 1), rule('db', 3, 'stop'), rule('names', 5, 'shared'), rule('portal', 6, 'out')];
  const { parts, proposals } = assemble({ rules }, instances, talks);
  expect(names(parts)).toEqual(['db 3', 'names 5', 'web 1']);
  expect(proposals).toEqual([]);
});

test('what is meant wherever it is follows changes: all that talk with the rest, and no other of the same process', () => {
  const rules = [rule('db', 3), rule('web', null)];
  const { parts } = assemble({ rules }, instances, talks);
  expect(names(parts)).toEqual(['db 3', 'web 1', 'web 2']);
  const later = assemble({ rules }, instances, [...talks, talk(['web', 9], ['db', 3])]);
  expect(names(later.parts)).toEqual(['db 3', 'web 1', 'web 2', 'web 9']);
});

test('tiers follow the direction of talk; what stands in for each other stands beside each other', () => {
  const rules = [rule('portal', 6), rule('web', null), rule('db', null)];
  const { parts } = assemble({ rules }, instances, talks);
  expect(parts.map(({ service, deviceId, tier }) => `${service} ${deviceId} ${tier}`)).toEqual([
    'db 3 2',
    'db 4 2',
    'portal 6 0',
    'web 1 1',
    'web 2 0',
  ]);
});

test('who is asked stands behind who asks it, whatever asks whom, unless both stand in a ring', () => {
  const graph = fc.integer({ min: 1, max: 9 }).chain((size) =>
    fc.record({
      size: fc.constant(size),
      talks: fc.array(fc.record({ client: fc.nat({ max: size - 1 }), server: fc.nat({ max: size - 1 }) }), {
        maxLength: 20,
      }),
    }),
  );
  fc.assert(
    fc.property(graph, ({ size, talks: all }) => {
      const tiers = tiersOf(size, all);
      const reaches = (from: number, to: number) => {
        const seen = new Set([from]);
        for (const at of seen) for (const { client, server } of all) if (client === at) seen.add(server);
        return seen.has(to);
      };
      for (const { client, server } of all)
        if (reaches(server, client)) expect(tiers[server]).toBe(tiers[client]);
        else expect(tiers[server]).toBeGreaterThan(tiers[client] ?? 0);
    }),
  );
});
