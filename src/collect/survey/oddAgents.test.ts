import { beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DisturbedAgent } from '../../../e2e/support/disturbedAgent';
import { anyOddAgent, harmless, oddAgent, type OddOptions } from '../../../e2e/support/oddAgents';
import { freeUdpPort } from '../../../e2e/support/program';
import type { Harvest, HarvestPart } from '../../core/estate/harvest';
import { interpret } from '../../core/estate/interpret';
import type { Signature } from '../../core/signatures/signature';
import { readDevice, readSystem } from '../agent/readDevice';
import { LiveAgent } from '../snmp/liveAgent';
import { UdpTransport } from '../snmp/udpTransport';

/**
 * Agents made up at random, asked over sockets. Equipment that keeps the standard is read whole; equipment that breaks it is read whole or told; nothing is silently wrong,
 * nothing silently missing.
 */
const address = '127.206.3.1';
const generic: Signature = { id: 'generic', order: 1000, match: {}, vendor: '', role: 'unknown' };
let port = 0;
beforeAll(async () => {
  port = await freeUdpPort();
});

async function harvestOf(options: OddOptions): Promise<Harvest | null> {
  const { tree, bend } = oddAgent(options);
  const agent = new DisturbedAgent(
    { address, port, engineId: Buffer.from('8000e6dd0307', 'hex'), communities: ['odd'], users: [] },
    tree,
    bend,
  );
  await agent.listen('127.206.3.2');
  const transport = new UdpTransport();
  try {
    const source = new LiveAgent(
      transport,
      { address, port, timeoutMs: 60, retries: 1 },
      { name: 'odd', kind: 'snmp2c', community: 'odd' },
    );
    const system = await readSystem(source);
    return (
      system &&
      (await readDevice(source, system, {
        address: '10.72.4.9',
        credential: 'odd',
        signatures: [generic],
        inFlight: 2,
        now: () => performance.now(),
        cancelled: () => false,
      }))
    );
  } finally {
    transport.close();
    agent.close();
  }
}

const pairs = (list: readonly object[]) => list.map((one) => JSON.stringify(one)).sort();

test('whatever an agent is like: read whole or told, and nothing wrong', async () => {
  await fc.assert(
    fc.asyncProperty(anyOddAgent, async (options) => {
      const { truth } = oddAgent(options);
      const harvest = await harvestOf(options);
      if (harvest === null) throw new Error('an agent that tells who it is was not heard');
      const report = interpret(harvest, [generic]);
      const isTold = (part: HarvestPart) => harvest.parts[part]?.state === 'failed';
      if (harmless.has(options.bend))
        expect(Object.entries(harvest.parts).filter(([, { state }]) => state === 'failed')).toEqual([]);

      // ports: those that are there are as they are, and all of them are there or their part is told
      const ports = report.ports.map(({ index, name, speedBps }) => ({ ifIndex: index, name, speedBps }));
      if (!isTold('interfaces')) expect(pairs(ports)).toEqual(pairs(truth.ports));
      expect(
        ports.map(({ ifIndex }) => ifIndex).filter((index) => !truth.ports.some((one) => one.ifIndex === index)),
      ).toEqual([]);

      // machines: on their own port, or on a bridge port that nobody knows the socket of, never on another's
      for (const machine of truth.machines) {
        const found = report.sightings.forwarding.filter(({ mac }) => mac === machine.mac);
        if (!isTold('bridge')) expect(found).not.toEqual([]);
        for (const { port: at, vlan } of found) {
          if (!isTold('interfaces')) expect([machine.port, `bridge port ${machine.bridgePort}`]).toContain(at);
          if (!isTold('interfaces') && options.mapsBridgePorts && !isTold('bridge')) expect(at).toBe(machine.port);
          expect([machine.vlan, null]).toContain(vlan);
        }
      }

      // neighbours: at their port, or at a port that is told by its number or id alone
      const sockets = new Set(truth.ports.map(({ name }) => name));
      for (const neighbour of truth.neighbours) {
        const found = report.neighbours.filter(({ chassisId }) => chassisId === neighbour.chassisId);
        if (!isTold('lldp')) expect(found).toHaveLength(1);
        for (const { port: at, portId } of found) {
          if (sockets.has(at) && !isTold('interfaces')) expect(at).toBe(neighbour.port);
          expect(portId).toBe(neighbour.portId);
        }
      }

      if (!isTold('addresses'))
        expect(report.addresses.map(({ address: own, prefixLength }) => ({ address: own, prefixLength }))).toEqual(
          truth.addresses,
        );
      const heard = report.sightings.addresses;
      if (!isTold('neighbourAddresses')) expect(pairs(heard)).toEqual(pairs(truth.heard));
      expect(pairs(heard).filter((one) => !pairs(truth.heard).includes(one))).toEqual([]);
    }),
    { numRuns: 40 },
  );
});
