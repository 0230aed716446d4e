import { cablingOf, type Cabling } from './cabling';

/** Who may be lost. */
export const thingKinds = ['device', 'endpoint', 'machine', 'service', 'application'] as const;
export type ThingKind = (typeof thingKinds)[number];

export interface Thing {
  kind: ThingKind;
  /** by which it is known among its kind */
  id: string;
  name: string;
}

/** What one thing is to another. */
export const needKinds = [
  'runs on',
  'hosted by',
  'powered by',
  'member of',
  'replicates with',
  'talks to',
  'stated',
] as const;
export type NeedKind = (typeof needKinds)[number];

/** That a thing goes on only while so many of some others do: all (one of one), any of several, k of n. Things by their numbers. */
export interface Need {
  of: number;
  from: readonly number[];
  atLeast: number;
  kind: NeedKind;
  /** who says so, in words */
  proof: string;
  /** by place in `from`: how that one is known, each reason by itself, where each is known by itself */
  each?: readonly (readonly string[])[];
}

/** What is joined in one VLAN. */
export interface Layer {
  vlan: number;
  /** cables that carry it */
  cables: readonly number[];
}

/** Things of one VLAN at one device, and who may route for them: any of them does. */
export interface GatewayGroup {
  /** place of its layer; -1 where it is not known which cables carry it: then any does */
  layer: number;
  at: number;
  gateways: readonly number[];
  things: readonly number[];
  /** the network, in words */
  network: string;
  /** a virtual router is told there, and these carry it; else they route and have an address in it */
  isVirtual?: boolean;
}

/** A host that may take over machines of others of its cluster. */
export interface ClusterHost {
  device: number;
  cluster: string;
  /** memory that no machine has; null where it is not known */
  roomBytes: number | null;
}

export interface HostedMachine {
  machine: number;
  /** the device it runs on */
  host: number;
  bytes: number | null;
  /** the device that runs in it, -1 where none is known */
  inside: number;
}

/** All that rests on each other, things by number: devices first, so that the number of a device is its number in the cabling. */
export interface DependenceGraph {
  things: readonly Thing[];
  deviceCount: number;
  cables: readonly { a: number; b: number }[];
  /** by device: 1 where it passes frames on */
  bridges: Uint8Array;
  /** by device: 1 where what it hears on one cable gets on to another; a server on two switches is no way between them */
  forwards: Uint8Array;
  /** by device: how near it is to the heart of a network by what it is, the highest first; what routes stands before what bridges */
  standing: Uint8Array;
  /** by thing: the device an endpoint hangs on, -1 where none is known */
  hangsOn: Int32Array;
  needs: readonly Need[];
  layers: readonly Layer[];
  gatewayGroups: readonly GatewayGroup[];
  clusterHosts: readonly ClusterHost[];
  machines: readonly HostedMachine[];
}

/** Needs in rows of numbers, so that what follows from a loss is counted and not looked for. */
export interface Needs {
  of: Int32Array;
  atLeast: Int32Array;
  /** how many it has to choose from */
  given: Int32Array;
  isPower: Uint8Array;
  /** by thing: needs that it fulfils, from `starts` on */
  starts: Int32Array;
  fulfils: Int32Array;
}

export interface PreparedGraph extends DependenceGraph {
  cabling: Cabling;
  counted: Needs;
  /** by device: its machines, by their places in `machines` */
  machinesOn: ReadonlyMap<number, readonly number[]>;
  /** by layer: its cables as a cabling of all devices; made when asked for */
  layerCabling: (layer: number) => Cabling;
}

/**
 * Makes a graph ready to be asked many times.
 * @throws RangeError where a number is that of no thing, or devices do not come first
 */
export function prepareGraph(graph: DependenceGraph): PreparedGraph {
  const { things, deviceCount, needs, layers, cables, machines, forwards } = graph;
  things.forEach(({ kind }, at) => {
    if ((kind === 'device') !== at < deviceCount) throw new RangeError(`thing ${at}: devices come first`);
  });
  const cabling = cablingOf(deviceCount, cables, forwards);
  const starts = new Int32Array(things.length + 1);
  for (const { of, from } of needs)
    for (const one of [of, ...from])
      if (one < 0 || one >= things.length) throw new RangeError(`a need names ${one}, which is no thing`);
  for (const { from } of needs) for (const one of from) starts[one + 1] = (starts[one + 1] ?? 0) + 1;
  for (let at = 0; at < things.length; at++) starts[at + 1] = (starts[at + 1] ?? 0) + (starts[at] ?? 0);
  const fulfils = new Int32Array(starts[things.length] ?? 0);
  const next = starts.slice();
  needs.forEach(({ from }, need) => {
    for (const one of from) {
      const place = next[one] ?? 0;
      fulfils[place] = need;
      next[one] = place + 1;
    }
  });
  const machinesOn = new Map<number, number[]>();
  machines.forEach(({ host }, at) => {
    const own = machinesOn.get(host);
    if (own) own.push(at);
    else machinesOn.set(host, [at]);
  });
  const made = new Map<number, Cabling>();
  return {
    ...graph,
    cabling,
    machinesOn,
    counted: {
      of: Int32Array.from(needs, ({ of }) => of),
      atLeast: Int32Array.from(needs, ({ atLeast }) => atLeast),
      given: Int32Array.from(needs, ({ from }) => from.length),
      isPower: Uint8Array.from(needs, ({ kind }) => Number(kind === 'powered by')),
      starts,
      fulfils,
    },
    layerCabling: (layer) => {
      let own = made.get(layer);
      if (!own)
        made.set(
          layer,
          (own = cablingOf(
            deviceCount,
            (layers[layer]?.cables ?? []).map((cable) => cables[cable] ?? { a: 0, b: 0 }),
          )),
        );
      return own;
    },
  };
}

/** By service: the device it runs on. */
export const runsOnIn = ({ needs }: Pick<DependenceGraph, 'needs'>): ReadonlyMap<number, number> =>
  new Map(needs.flatMap(({ of, kind, from: [on] }) => (kind === 'runs on' && on !== undefined ? [[of, on]] : [])));
