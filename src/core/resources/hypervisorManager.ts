import * as yup from 'yup';
import { teamings, type HostNetworkFacts, type MachineFacts, type Teaming } from '../estate/facts';
import type { PartState } from '../estate/harvest';
import { parseMac } from '../values/mac';
import { expectObject, expectRows } from './expectation';
import type { Json } from './json';
import { wholePart, type ResourceAnswer } from './resourceAnswer';
import { toldReport } from './toldReport';

/** Whose private interface this is. */
const vendor = 'Brannick';

/** What the interface of the hypervisor manager is expected to answer. Objects refer to each other by their ids. */
const managerSchema = yup.object({
  name: yup.string().required(),
  product: yup.string().required(),
  serial: yup.string().defined(),
  build: yup.string().required(),
});
const clusterSchema = yup.object({ id: yup.string().required(), name: yup.string().required() });
const hostSchema = yup.object({
  id: yup.string().required(),
  name: yup.string().required(),
  cluster: yup.string().nullable().defined(),
  connected: yup.boolean().required(),
  adapters: yup
    .array(
      yup.object({
        name: yup.string().required(),
        mac: yup.string().required(),
        megabits: yup.number().nullable().defined(),
        up: yup.boolean().required(),
      }),
    )
    .required(),
  switches: yup
    .array(
      yup.object({
        name: yup.string().required(),
        uplinks: yup.array(yup.string().required()).required(),
        teaming: yup.string().required(),
        portGroups: yup
          .array(yup.object({ name: yup.string().required(), vlan: yup.number().nullable().defined() }))
          .required(),
      }),
    )
    .required(),
});
const machineSchema = yup.object({
  id: yup.string().required(),
  name: yup.string().required(),
  uuid: yup.string().required(),
  host: yup.string().required(),
  power: yup.string().oneOf(['on', 'off', 'suspended']).required(),
  system: yup.string().required(),
  processors: yup.number().required(),
  memoryMiB: yup.number().required(),
  adapters: yup
    .array(
      yup.object({ mac: yup.string().required(), portGroup: yup.string().required(), switch: yup.string().required() }),
    )
    .required(),
});
const datastoreSchema = yup.object({
  name: yup.string().required(),
  kind: yup.string().required(),
  capacityBytes: yup.number().required(),
  freeBytes: yup.number().required(),
});

export type ManagerResource = { body: Json } | { missing: string };
export interface ManagerAnswers {
  manager: Json;
  clusters: ManagerResource;
  hosts: ManagerResource;
  machines: ManagerResource;
  datastores: ManagerResource;
}

/** The manager, with every machine of its hosts: which host and cluster, which network, and over which physical adapters it leaves. Datastores are its storage. */
export function interpretHypervisors(
  answers: ManagerAnswers,
  { address, credential }: { address: string; credential: string },
): ResourceAnswer | { drift: string } {
  const { value: own, drift: unknown } = expectObject(managerSchema, answers.manager, 'manager');
  if (!own) return { drift: unknown ?? 'this interface changed' };
  const read = <Row>(resource: ManagerResource, schema: yup.Schema<Row>, where: string) =>
    'body' in resource
      ? expectRows(schema, resource.body, 'items', where)
      : { rows: [] as Row[], drift: resource.missing };
  const clusters = read(answers.clusters, clusterSchema, 'clusters');
  const hosts = read(answers.hosts, hostSchema, 'hosts');
  const machines = read(answers.machines, machineSchema, 'machines');
  const stores = read(answers.datastores, datastoreSchema, 'datastores');
  const state = (drift: string | null): PartState =>
    drift === null ? wholePart : { state: 'failed', reason: drift, seconds: 0 };
  const clusterName = new Map(clusters.rows.map(({ id, name }) => [id, name]));
  const hostById = new Map(hosts.rows.map((host) => [host.id, host]));
  return {
    parts: {
      system: wholePart,
      machines: state(machines.drift ?? hosts.drift ?? clusters.drift),
      host: state(stores.drift),
    },
    report: toldReport(
      'hypervisors',
      {
        name: own.name,
        role: 'virtual-machine',
        address,
        credential,
        vendor,
        site: '',
        model: own.product,
        serial: own.serial,
        release: own.build,
        description: 'hypervisor manager',
      },
      {
        volatile: {
          uptimeSeconds: null,
          flashFreeBytes: null,
          storage: stores.rows.map(({ name, kind, capacityBytes, freeBytes }) => ({
            name,
            kind,
            sizeBytes: capacityBytes,
            usedBytes: capacityBytes - freeBytes,
          })),
        },
        hostNetworks: hosts.rows.map((host): HostNetworkFacts => ({
          host: host.name,
          adapters: host.adapters.map(({ name, mac, megabits, up }) => ({
            name,
            mac: parseMac(mac),
            speedBps: megabits === null ? null : megabits * 1e6,
            up,
          })),
          switches: host.switches.map(({ name, uplinks, teaming, portGroups }) => ({
            name,
            uplinks,
            teaming: teamingOf(teaming),
            groups: portGroups,
          })),
        })),
        machines: machines.rows.map((machine): MachineFacts => {
          const host = hostById.get(machine.host);
          return {
            name: machine.name,
            uuid: machine.uuid.toLowerCase(),
            system: machine.system,
            state: machine.power === 'on' ? 'running' : machine.power,
            processors: machine.processors,
            memoryBytes: machine.memoryMiB * 2 ** 20,
            host: host?.name ?? '',
            cluster: clusterName.get(host?.cluster ?? '') ?? '',
            adapters: machine.adapters.map((adapter) => ({
              mac: parseMac(adapter.mac),
              network: adapter.portGroup,
              virtualSwitch: adapter.switch,
              port: host?.switches.find(({ name }) => name === adapter.switch)?.uplinks.join(' + ') ?? null,
            })),
          };
        }),
      },
    ),
  };
}

const teamingOf = (text: string): Teaming => teamings.find((one) => one === text) ?? 'other';
