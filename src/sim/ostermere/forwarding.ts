import type { SimEstate } from './model';

const siteOf = (name: string) => name.slice(0, name.indexOf('-'));

/** What a bridge has learned: MAC and VLAN on the port that leads towards it. */
export interface Learned {
  mac: string;
  vlan: number;
  port: string;
}

/**
 * Lets every machine of the estate be heard by the bridges of its site and by those on the way to the cores, over the links that forward: the truth from which the agents'
 * forwarding tables are made. A breadth-first walk from each bridge that has a machine.
 */
export function learnForwarding({ devices, cables, guests }: SimEstate): Map<string, Learned[]> {
  const byName = new Map(devices.map((device) => [device.name, device]));
  const ports = new Map(devices.map(({ name, ports }) => [name, new Map(ports.map((port) => [port.name, port]))]));
  const portOf = (device: string, port: string) => ports.get(device)?.get(port);
  const edges = new Map<string, { here: string; there: string }[]>();
  for (const { a, b } of cables) {
    for (const [here, there] of [
      [a, b],
      [b, a],
    ] as const) {
      const ports = [portOf(here.device, here.port), portOf(there.device, there.port)];
      if (!byName.get(there.device)?.bridge || ports.some((port) => !port || port.oper !== 'up' || port.blocked))
        continue;
      edges.set(there.device, [...(edges.get(there.device) ?? []), { here: here.device, there: here.port }]);
    }
  }
  // edges.get(X): neighbours of X as (device, that device's port towards X)
  const learned = new Map<string, Learned[]>(devices.filter(({ bridge }) => bridge).map(({ name }) => [name, []]));
  /** The bridges that hear what hangs on one, each with its port towards it. */
  const towards = (device: string): { bridge: string; port: string }[] => {
    // the way back from each bridge that hears it
    const backwards = new Map<string, { from: string; there: string }>();
    const queue = [device];
    for (const at of queue) {
      for (const { here, there } of edges.get(at) ?? []) {
        if (here === device || backwards.has(here) || !byName.get(here)?.bridge) continue;
        backwards.set(here, { from: at, there });
        queue.push(here);
      }
    }
    const hearing = new Set([...backwards.keys()].filter((name) => siteOf(name) === siteOf(device)));
    // towards the gateways every bridge on the way hears it; other sites do not: their VLANs end at the cores
    for (const core of queue.filter((name) => name.includes('-core-')))
      for (let at = core; at !== device; at = backwards.get(at)?.from ?? device) hearing.add(at);
    return [...hearing].map((bridge) => {
      const physical = portOf(bridge, backwards.get(bridge)?.there ?? '');
      const aggregate = byName.get(bridge)?.ports.find(({ index }) => index === physical?.aggregate);
      return { bridge, port: aggregate?.name ?? physical?.name ?? '' };
    });
  };
  const known = new Map<string, ReturnType<typeof towards>>();
  const spread = (mac: string, vlan: number, device: string, port: string) => {
    if (!byName.get(device)?.bridge) return;
    if (port) learned.get(device)?.push({ mac, vlan, port });
    const hearing = known.get(device) ?? towards(device);
    known.set(device, hearing);
    for (const at of hearing) learned.get(at.bridge)?.push({ mac, vlan, port: at.port });
  };
  // what hangs on a port that is down is heard by nobody
  for (const { mac, vlan, device, port } of guests)
    if (portOf(device, port)?.oper === 'up') spread(mac, vlan, device, port);
  for (const { name, bridge, mac } of devices) if (bridge) spread(mac, 70, name, '');
  for (const { a, b } of cables) {
    for (const [here, there] of [
      [a, b],
      [b, a],
    ] as const) {
      const machine = byName.get(there.device);
      const bridge = byName.get(here.device);
      const port = portOf(there.device, there.port);
      if (bridge?.bridge && machine && !machine.bridge && port) spread(port.mac, 70, here.device, here.port);
    }
  }
  // virtual machines are heard where the adapter of their host is plugged in that carries them
  for (const { name, machines = [] } of devices) {
    for (const { mac, port, vlan, running } of machines) {
      const plugged = running
        ? cables.flatMap(({ a, b }) =>
            b.device === name && b.port === port ? [a] : a.device === name && a.port === port ? [b] : [],
          )[0]
        : undefined;
      if (plugged) spread(mac, vlan, plugged.device, plugged.port);
    }
  }
  return learned;
}
