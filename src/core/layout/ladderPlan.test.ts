import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { HostLadder } from '../topology/hostLadder';
import { ladderPlan, type Rung } from './ladderPlan';

const ladders = fc
  .record({
    switches: fc.integer({ min: 0, max: 4 }),
    machines: fc.array(fc.array(fc.integer({ min: 0, max: 4 }), { maxLength: 3 }), { maxLength: 12 }),
    adapters: fc.array(fc.tuple(fc.integer({ min: -1, max: 3 }), fc.boolean()), { maxLength: 8 }),
  })
  .map(({ switches, machines, adapters }): HostLadder => {
    const own = adapters.map(([team, plugged], at) => ({
      name: `eth${at}`,
      mac: null,
      speedBps: null,
      up: true,
      team: team >= 0 && team < switches ? `sw${team}` : null,
      plug: plugged
        ? { deviceId: 1, device: 'acc', port: String(at), confidence: 'concluded' as const, facts: undefined, units: 1 }
        : null,
    }));
    return {
      host: 'h',
      key: '1',
      hostId: 1,
      findings: [],
      adapters: own,
      switches: Array.from({ length: switches }, (_, at) => ({
        name: `sw${at}`,
        teaming: 'other' as const,
        groups: [{ name: 'OPS', vlan: 10 }],
        uplinks: own.filter(({ team }) => team === `sw${at}`).map(({ name }) => name),
      })),
      machines: machines.map((on, at) => ({
        name: `vm${at}`,
        state: 'running' as const,
        adapters: on.map((one) => ({ mac: null, switch: `sw${one}`, group: '', vlan: null })),
      })),
    };
  });

test('everything stands once, over nothing else, and is joined to what it is on', () => {
  fc.assert(
    fc.property(ladders, (ladder) => {
      const plan = ladderPlan(ladder);
      expect([plan.machines, plan.switches, plan.adapters, plan.plugs].map((list) => list.length)).toEqual([
        ladder.machines.length,
        ladder.switches.length,
        ladder.adapters.length,
        ladder.adapters.filter(({ plug }) => plug).length,
      ]);
      for (const list of [plan.machines, plan.switches, plan.adapters, plan.plugs]) {
        const sorted = [...list].sort((x, y) => x.y - y.y);
        sorted
          .slice(1)
          .forEach((rung, at) =>
            expect(rung.y).toBeGreaterThanOrEqual((sorted[at] as Rung).y + (sorted[at] as Rung).height),
          );
        for (const rung of list) expect(rung.y + rung.height).toBeLessThanOrEqual(plan.height);
      }
      const joints = ladder.machines.flatMap(({ adapters }) =>
        adapters.filter((adapter) => ladder.switches.some(({ name }) => name === adapter.switch)),
      ).length;
      expect(plan.lines).toHaveLength(joints + ladder.adapters.filter(({ team }) => team).length + plan.plugs.length);
    }),
  );
});

test('it stands closer together where there is less room, its columns in order and apart', () => {
  const empty = { host: 'h', key: '1', hostId: 1, machines: [], switches: [], adapters: [], findings: [] };
  const least = ladderPlan(empty, 0);
  fc.assert(
    fc.property(ladders, fc.integer({ min: 0, max: 2000 }), (ladder, room) => {
      const { columns, width } = ladderPlan(ladder, room);
      expect(width).toBeLessThanOrEqual(Math.max(room, least.width));
      const inOrder = [columns.machines, columns.switches, columns.adapters, columns.plugs];
      inOrder.slice(1).forEach(({ x }, at) => {
        const before = inOrder[at] as { x: number; width: number };
        expect(x - before.x - before.width).toBeGreaterThanOrEqual(32);
      });
    }),
  );
  expect(least.width).toBeLessThan(ladderPlan(empty).width);
});
