import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addSummaries, summarisePorts, type CountedPort } from './portSummary';

const day = 86_400;
const port = (more: Partial<CountedPort> = {}): CountedPort => ({
  physical: true,
  admin: 'up',
  oper: 'up',
  kind: 'edge',
  lastChangeSeconds: day,
  machines: 1,
  ...more,
});

test('sockets are counted by what they are used for; aggregates and virtual ports are none', () => {
  expect(
    summarisePorts(
      [
        port(),
        port({ kind: 'uplink', machines: 0 }),
        port({ machines: 0 }),
        port({ oper: 'down', machines: 0 }),
        port({ oper: 'down', machines: 0, lastChangeSeconds: 31 * day }),
        port({ oper: 'down', lastChangeSeconds: null }),
        port({ admin: 'down', oper: 'down', lastChangeSeconds: 400 * day }),
        port({ physical: false }),
      ],
      30 * day,
    ),
  ).toEqual({ sockets: 7, up: 3, uplinks: 1, inUse: 1, quiet: 1, free: 3, idle: 1, switchedOff: 1 });
});
test('every socket is up, free or switched off, and every one that is up is an uplink, in use or quiet', () => {
  const any = fc.record({
    physical: fc.boolean(),
    admin: fc.constantFrom('up', 'down'),
    oper: fc.constantFrom('up', 'down', 'notPresent'),
    kind: fc.constantFrom('uplink', 'edge', 'unused'),
    lastChangeSeconds: fc.option(fc.nat(1e8)),
    machines: fc.nat(3),
  });
  fc.assert(
    fc.property(fc.array(any), fc.array(any), (one, other) => {
      const sum = addSummaries([summarisePorts(one, day), summarisePorts(other, day)]);
      expect(sum).toEqual(summarisePorts([...one, ...other], day));
      expect([sum.up + sum.free + sum.switchedOff, sum.uplinks + sum.inUse + sum.quiet, sum.idle <= sum.free]).toEqual([
        sum.sockets,
        sum.up,
        true,
      ]);
    }),
  );
});
