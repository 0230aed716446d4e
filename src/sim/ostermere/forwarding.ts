import type { SimEstate } from './model';

/** What a bridge has learned: MAC and VLAN on the port that leads towards it. */
export interface Learned {
  mac: string;
  vlan: number;
  port: string;
}

/**
 * Lets every machine of the estate be heard by every bridge, over the links that forward: the truth from which the agents'
 * forwarding tables are made. A breadth-first walk from each bridge that has a machine.
 */
export function learnForwarding({ devices, cables, guests }: SimEstate): Map<string, Learned[]> {
  const byName = new Map(devices.map((device) => [device.name, device]));
  const portOf = (device: string, port: string) => byName.get(device)?.ports.find(({ name }) => name === port);
  const edges = new Map<string, { here: string; there: string }[]>();
  for (const { a, b } of cables) {
    for (const [here, there] of [[a, b], [b, a]] as const) {
      const ports = [portOf(here.device, here.port), portOf(there.device, there.port)];
      if (!byName.get(there.device)?.bridge || ports.some((port) => !port || port.oper !== 'up' || port.blocked)) continue;
      edges.set(there.device, [...(edges.get(there.device) ?? []), { here: here.device, there: here.port }]);
    }
  }
  // edges.get(X): neighbours of X as (device, that device's port towards X)
  const learned = new Map<string, Learned[]>(devices.filter(({ bridge }) => bridge).map(({ name }) => [name, []]));
  const spread = (mac: string, vlan: number, device: string, port: string) => {
    const bridge = byName.get(device);
    if (!bridge?.bridge) return;
    if (port) learned.get(device)?.push({ mac, vlan, port });
    const seen = new Set([device]);
    const queue = [device];
    while (queue.length > 0) {
      const at = queue.shift() ?? '';
      for (const { here, there } of edges.get(at) ?? []) {
        if (seen.has(here) || !byName.get(here)?.bridge) continue;
        seen.add(here);
        queue.push(here);
        const physical = portOf(here, there);
        const aggregate = byName.get(here)?.ports.find(({ index }) => index === physical?.aggregate);
        learned.get(here)?.push({ mac, vlan, port: aggregate?.name ?? there });
      }
    }
  };
  for (const { mac, vlan, device, port } of guests) spread(mac, vlan, device, port);
  for (const { name, bridge, mac } of devices) if (bridge) spread(mac, 70, name, '');
  for (const { a, b } of cables) {
    for (const [here, there] of [[a, b], [b, a]] as const) {
      const machine = byName.get(there.device);
      const bridge = byName.get(here.device);
      const port = portOf(there.device, there.port);
      if (bridge?.bridge && machine && !machine.bridge && port) spread(port.mac, 70, here.device, here.port);
    }
  }
  return learned;
}
