import { farEnd, mainPieces, nothingAway, partsOf, passesOn } from './cabling';
import type { NeedKind, PreparedGraph } from './graph';
import type { Providers } from './providers';

/** By what a thing rests on others: what a need is, where it is plugged in, and who routes for it. */
export type RestKind = NeedKind | 'attached to' | 'gateway of';

/** One of those that something rests on. */
export interface RestedOn {
  thing: number;
  /** how that is known, each reason by itself; empty where the cables are all there is to say */
  proof: readonly string[];
  /** the cables between the two */
  cables: readonly number[];
  /** it rests on the other likewise */
  isMutual: boolean;
}

/** One way in which a thing rests on others. */
export interface Resting {
  kind: RestKind;
  /** so many of them must go on; 0 where it goes on without for a while, or only keeps a spare in them */
  atLeast: number;
  on: readonly RestedOn[];
  /** what of: the network of a gateway, a part of an application; empty for the thing as a whole */
  of: string;
}

/**
 * All that a thing rests on, one step far, each with the evidence: where it is attached, who routes for it, what it runs on or is hosted by, where its power comes from, whom it asks, what people say.
 * Several of a kind stand in for each other as far as `atLeast` is less than how many they are.
 */
export function restingsOf(graph: PreparedGraph, providers: Providers, thing: number): Resting[] {
  const found: Resting[] = [];
  const add = (kind: RestKind, on: readonly Omit<RestedOn, 'isMutual'>[], of = '', atLeast = 1) => {
    if (on.length === 0) return;
    const isMutual = (other: number) => providers.of(other).some(({ from }) => from.includes(thing));
    found.push({ kind, atLeast, of, on: on.map((one) => ({ ...one, isMutual: isMutual(one.thing) })) });
  };
  const known = (other: number, ...proof: string[]) => ({ thing: other, proof, cables: [] });
  const needs = providers.needsOf(thing).flatMap((need) => graph.needs[need] ?? []);
  const ofKinds = (...kinds: NeedKind[]) => {
    for (const { kind, from, atLeast, proof, each } of needs)
      if (kinds.includes(kind))
        add(
          kind,
          from.map((other, at) => known(other, ...(each?.[at] ?? [proof]))),
          kind === 'member of' ? proof : '',
          atLeast,
        );
  };
  ofKinds('member of', 'runs on', 'hosted by');
  const hosted = providers.machineOf(thing);
  if (hosted) add('hosted by', [known(hosted.machine === thing ? hosted.host : hosted.machine, 'it runs there now')]);
  const place = graph.hangsOn[thing] ?? -1;
  if (place >= 0) add('attached to', [known(place, 'it is heard there')]);
  // what runs in a machine is plugged in where its host is
  if (thing < graph.deviceCount && !hosted) add('attached to', attachedTo(graph, thing));
  for (const { network, gateways, isVirtual } of providers.groupsOf(thing))
    add(
      'gateway of',
      gateways.map((other) =>
        known(other, isVirtual ? 'carries its virtual router' : 'routes, and has an address in it'),
      ),
      network,
    );
  ofKinds('powered by', 'talks to', 'replicates with', 'stated');
  return found;
}

/**
 * Over which neighbours a device reaches most of its network: those that are still there together when the device is away. What hangs on one switch has one; where nothing that is left is more than half of all, the device holds the network together itself.
 */
function attachedTo({ cabling }: PreparedGraph, device: number): Omit<RestedOn, 'isMutual'>[] {
  const away = nothingAway(cabling);
  const before = partsOf(cabling, away);
  away.devices[device] = 1;
  const left = partsOf(cabling, away);
  const own = before.partOf[device] ?? 0;
  const main = mainPieces(cabling, before, left)[own] ?? -1;
  if (main < 0 || (left.sizes[main] ?? 0) <= ((before.sizes[own] ?? 0) - 1) / 2) return [];
  const cables = new Map<number, number[]>();
  for (let place = cabling.starts[device] ?? 0; place < (cabling.starts[device + 1] ?? 0); place++) {
    const cable = cabling.cable[place] ?? 0;
    const other = farEnd(cabling, cable, device);
    if (left.partOf[other] !== main || !passesOn(cabling, other, device)) continue;
    const known = cables.get(other);
    if (known) known.push(cable);
    else cables.set(other, [cable]);
  }
  return [...cables].map(([thing, between]) => ({ thing, proof: [], cables: between }));
}
