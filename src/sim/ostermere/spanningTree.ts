import type { SimDevice, SimEstate } from './model';

/** What one bridge says of the tree: whose it is, over which port it reaches that one, and who speaks for the segment on each of its ports that lead up or rest. */
export interface TreeAtBridge {
  /** bridge identifiers (IEEE 802.1D): two octets of priority, six of MAC */
  self: Buffer;
  root: Buffer;
  rootPort: string | null;
  /** by port: the bridge that is designated on its segment and the number of its port there; it itself where a port is not named */
  designated: Map<string, { bridge: Buffer; port: number }>;
}

/** Ports that take part in bridging, as bridges number them: not as interfaces are numbered. */
export function bridgePortNumbers(device: SimDevice): Map<string, number> {
  return new Map(
    device.ports.filter(({ bridged, aggregate }) => bridged && !aggregate).map(({ name }, at) => [name, at + 1]),
  );
}

/** The cores are meant to be roots, the first of them first. */
const priorityOf = (name: string): number => (/-core-1$/.test(name) ? 0x1000 : /-core-2$/.test(name) ? 0x2000 : 0x8000);

const identifierOf = ({ name, mac }: SimDevice): Buffer =>
  Buffer.concat([Buffer.from([priorityOf(name) >> 8, 0]), Buffer.from(mac.replaceAll(':', ''), 'hex')]);

/**
 * The spanning tree of the estate over the links that forward, a part that is cut off with a root of its own: from the bridge of the lowest identifier outwards,
 * the nearest first.
 */
export function spanningTree({ devices, cables }: SimEstate): Map<string, TreeAtBridge> {
  const bridges = new Map(devices.filter(({ bridge }) => bridge).map((device) => [device.name, device]));
  /** the port that takes part in bridging: an aggregate for its members */
  const bridging = (device: SimDevice, name: string) => {
    const port = device.ports.find((own) => own.name === name);
    return device.ports.find(({ index }) => index === port?.aggregate) ?? port;
  };
  const lines = cables.flatMap(({ a, b }) => {
    const [one, other] = [bridges.get(a.device), bridges.get(b.device)];
    const [here, there] = [
      one?.ports.find(({ name }) => name === a.port),
      other?.ports.find(({ name }) => name === b.port),
    ];
    if (!one || !other || here?.oper !== 'up' || there?.oper !== 'up') return [];
    return [
      {
        ends: [
          { device: one, port: bridging(one, a.port)?.name ?? a.port },
          { device: other, port: bridging(other, b.port)?.name ?? b.port },
        ] as const,
        rests: Boolean(here.blocked || there.blocked),
      },
    ];
  });
  const speaking = ({ device, port }: { device: SimDevice; port: string }) => ({
    bridge: identifierOf(device),
    port: bridgePortNumbers(device).get(port) ?? 0,
  });
  const trees = new Map<string, TreeAtBridge>();
  const inOrder = [...bridges.values()].sort((x, y) => Buffer.compare(identifierOf(x), identifierOf(y)));
  for (const root of inOrder) {
    if (trees.has(root.name)) continue;
    const top = identifierOf(root);
    trees.set(root.name, { self: top, root: top, rootPort: null, designated: new Map() });
    const queue = [root];
    for (const at of queue) {
      for (const { ends, rests } of lines) {
        const near = ends.find(({ device }) => device === at);
        const far = ends.find(({ device }) => device !== at);
        if (rests || !near || !far || trees.has(far.device.name)) continue;
        trees.set(far.device.name, {
          self: identifierOf(far.device),
          root: top,
          rootPort: far.port,
          designated: new Map([[far.port, speaking(near)]]),
        });
        queue.push(far.device);
      }
    }
  }
  // the other end of a line that rests speaks for it
  for (const { ends, rests } of lines) {
    if (!rests) continue;
    for (const [own, other] of [ends, [ends[1], ends[0]] as const]) {
      if (own.device.ports.find(({ name }) => name === own.port)?.blocked)
        trees.get(own.device.name)?.designated.set(own.port, speaking(other));
    }
  }
  return trees;
}
