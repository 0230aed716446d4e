import { BridgedParts } from './bridged';
import { farEnd, firstsOf, mainPieces, nothingAway, partsOf, type Away } from './cabling';
import type { GatewayGroup, PreparedGraph } from './graph';
import { devicesBetween, heartsOf, onlyWays, type OnlyWays } from './onlyWays';

/** What becomes of a thing. */
export const fates = ['untouched', 'down', 'lost', 'degraded'] as const;
export type Fate = (typeof fates)[number];
const [untouched, down, lost, degraded] = [0, 1, 2, 3];

/** Why a thing is lost, or what it lost of its spare. Things by their numbers. */
export type Cause =
  /** its part of the network is parted from the rest, which it reached only over these */
  | { kind: 'cutOff'; over: readonly number[]; cables: readonly number[] }
  /** what it hangs on is down, or cut off, or lost its other way */
  | { kind: 'at'; device: number }
  /** nobody routes for it any more, or fewer do */
  | { kind: 'gateway'; group: GatewayGroup; gone: readonly number[] }
  /** fewer of those it needs go on; `gone` those that do not */
  | { kind: 'need'; need: number; gone: readonly number[] }
  /** its host is down: where it is started again, or why nowhere */
  | { kind: 'restart'; host: number; on: number | null; isRoomKnown: boolean }
  /** one way only where there were several: what is left of it, and what went with what */
  | { kind: 'spare'; onlyOver: number | null; onlyCable: number | null; gone: readonly number[] };

export interface Outcome {
  /** by thing */
  fate: Uint8Array;
  cause: Map<number, Cause>;
}

export interface WhatGoesDown {
  things: readonly number[];
  /** by their places among the cables of the graph */
  cables?: readonly number[];
  /** without asking what loses its spare */
  lostAlone?: boolean;
}

/** How everything stands while nothing is down: what was never joined is not lost by anything. */
interface Standing {
  fate: Uint8Array;
  partOf: Int32Array;
  sizes: readonly number[];
  /** by need: how many of its givers stand */
  counts: Int32Array;
  /** a device in the middle of each part that has several */
  hearts: readonly number[];
  ways: OnlyWays;
  gateways: readonly (readonly number[])[];
}

/** With so many down, which of them each way went by is looked for one by one. */
const mostAskedOneByOne = 8;

/**
 * What would be lost, and what would lose its spare, if some things were down: power first, then who still reaches the largest piece that is left of its network over any cable (spanning tree opens what rests, routing finds what is left), then machines that are
 * started again where there is room, then gateways within each VLAN, then all that needs what is lost (the greatest set of things that can stand together: those that need each other stand until something else fails).
 * Cost is linear in cables and needs, but for the VLANs that something down is in.
 */
export class Rehearsals {
  readonly #before: Standing;

  /** What each device has only one of while nothing is down. */
  get ways(): OnlyWays {
    return this.#before.ways;
  }

  /** A device in the middle of each network. */
  get hearts(): readonly number[] {
    return this.#before.hearts;
  }

  constructor(readonly graph: PreparedGraph) {
    this.#before = this.#stand();
  }

  /** What is lost or degraded if these are down. */
  rehearse({ things, cables = [], lostAlone = false }: WhatGoesDown): Outcome {
    const { graph } = this;
    const before = this.#before;
    const outcome: Outcome = { fate: new Uint8Array(graph.things.length), cause: new Map() };
    const { fate, cause } = outcome;
    const away = nothingAway(graph.cabling);
    for (const cable of cables) away.cables[cable] = 1;
    const counts = before.counts.slice();
    const isLost = (thing: number) => fate[thing] === down || fate[thing] === lost;
    const gone = (need: number) => (graph.needs[need]?.from ?? []).filter(isLost);
    const queue: number[] = [];
    const lose = (thing: number, why: Cause) => {
      if (isLost(thing) || before.fate[thing] !== untouched) return;
      fate[thing] = lost;
      cause.set(thing, why);
      queue.push(thing);
    };
    const { of, atLeast, isPower, starts, fulfils } = graph.counted;
    /** @param power whether what is gone gives no power any more: what is only out of reach does */
    const follow = (power: boolean) => {
      for (let thing = queue.pop(); thing !== undefined; thing = queue.pop()) {
        for (let place = starts[thing] ?? 0; place < (starts[thing + 1] ?? 0); place++) {
          const need = fulfils[place] ?? 0;
          if (isPower[need] && !power) continue;
          counts[need] = (counts[need] ?? 0) - 1;
          if ((counts[need] ?? 0) < (atLeast[need] ?? 0)) lose(of[need] ?? 0, { kind: 'need', need, gone: [] });
        }
      }
    };
    for (const thing of things) {
      if (fate[thing] === down) continue;
      fate[thing] = down;
      queue.push(thing);
    }
    follow(true);
    const off: number[] = [];
    for (let device = 0; device < graph.deviceCount; device++)
      if (isLost(device)) {
        away.devices[device] = 1;
        off.push(device);
      }
    const nothingCut = off.length === 0 && cables.length === 0;
    const left = nothingCut ? null : partsOf(graph.cabling, away);
    const main = left && mainPieces(graph.cabling, before, left);
    const reaches = (device: number) =>
      left === null || main === null || isIn(left.partOf, device, main[before.partOf[device] ?? 0] ?? -1);
    const restarted = this.#restart(off, isLost, reaches);
    const stayedInside = new Set<number>();
    for (const { machine, inside, on, host, isRoomKnown } of restarted) {
      if (isLost(machine) || before.fate[machine] !== untouched) continue;
      const why: Cause = { kind: 'restart', host, on, isRoomKnown };
      if (on === null) {
        lose(machine, why);
        if (inside >= 0) lose(inside, why);
        continue;
      }
      for (const one of [machine, inside]) {
        if (one < 0 || isLost(one)) continue;
        fate[one] = degraded;
        cause.set(one, why);
      }
      if (inside >= 0) stayedInside.add(inside);
    }
    if (left !== null) {
      const boundaries = new Map<number, Cause>();
      for (let device = 0; device < graph.deviceCount; device++) {
        if (reaches(device) || isLost(device) || stayedInside.has(device)) continue;
        const part = left.partOf[device] ?? -1;
        let why = boundaries.get(part);
        if (!why) boundaries.set(part, (why = this.#boundary(left.partOf, part, away)));
        lose(device, why);
      }
    }
    for (let thing = graph.deviceCount; thing < graph.things.length; thing++) {
      const at = graph.hangsOn[thing] ?? -1;
      if (at >= 0 && isLost(at)) lose(thing, { kind: 'at', device: at });
    }
    for (const { machine, host, inside } of graph.machines) {
      const isElsewhere = cause.get(machine)?.kind === 'restart';
      if (isLost(host) && !isElsewhere) lose(machine, { kind: 'at', device: host });
      if (inside >= 0 && isLost(machine)) lose(inside, { kind: 'at', device: host });
    }
    const gateways = nothingCut ? [] : this.#gateways(away, isLost);
    for (const { group, left, missing } of gateways)
      if (left === 0) for (const thing of group.things) lose(thing, { kind: 'gateway', group, gone: missing });
    follow(false);
    // those that went after the first
    for (const one of cause.values()) if (one.kind === 'need') Object.assign(one, { gone: gone(one.need) });
    if (lostAlone) return outcome;

    const weaken = (thing: number, why: Cause): boolean => {
      if (fate[thing] !== untouched || before.fate[thing] !== untouched) return false;
      fate[thing] = degraded;
      cause.set(thing, why);
      return true;
    };
    if (left !== null && main !== null) this.#spares(away, off, left.partOf, main, weaken);
    for (const { group, left, missing } of gateways)
      if (left > 0) for (const thing of group.things) weaken(thing, { kind: 'gateway', group, gone: missing });
    for (let thing = graph.deviceCount; thing < graph.things.length; thing++) {
      const at = graph.hangsOn[thing] ?? -1;
      if (at >= 0 && fate[at] === degraded) weaken(thing, { kind: 'at', device: at });
    }
    for (const { machine, host } of graph.machines)
      if (fate[host] === degraded) weaken(machine, { kind: 'at', device: host });
    this.#weakened(fate, counts, weaken, gone);
    return outcome;
  }

  /** Things that need what has lost its spare, and have too few others, are no better. */
  #weakened(
    fate: Uint8Array,
    counts: Int32Array,
    weaken: (thing: number, why: Cause) => boolean,
    gone: (need: number) => number[],
  ): void {
    const { graph } = this;
    const { of, atLeast, starts, fulfils } = graph.counted;
    const sound = counts.slice();
    const queue: number[] = [];
    for (let need = 0; need < of.length; need++) {
      if ((this.#before.counts[need] ?? 0) <= (counts[need] ?? 0)) continue;
      const thing = of[need] ?? 0;
      weaken(thing, { kind: 'need', need, gone: gone(need) });
    }
    for (let thing = 0; thing < fate.length; thing++) if (fate[thing] === degraded) queue.push(thing);
    for (let thing = queue.pop(); thing !== undefined; thing = queue.pop()) {
      for (let place = starts[thing] ?? 0; place < (starts[thing + 1] ?? 0); place++) {
        const need = fulfils[place] ?? 0;
        sound[need] = (sound[need] ?? 0) - 1;
        if ((sound[need] ?? 0) >= (atLeast[need] ?? 0)) continue;
        const weaker = of[need] ?? 0;
        if (weaken(weaker, { kind: 'need', need, gone: [thing] })) queue.push(weaker);
      }
    }
  }

  #stand(): Standing {
    const { graph } = this;
    const { things, cabling } = graph;
    const away = nothingAway(cabling);
    const { partOf, sizes } = partsOf(cabling, away);
    const firsts = [...firstsOf(cabling, partOf, sizes.length)].filter((_, part) => (sizes[part] ?? 0) > 1);
    const hearts = heartsOf(cabling, away, firsts, graph.standing);
    const counts = graph.counted.given.slice();
    const fate = new Uint8Array(things.length);
    // what needs more than there is was never there
    const queue: number[] = [];
    const { of, atLeast, starts, fulfils } = graph.counted;
    const miss = (thing: number) => {
      if (fate[thing] !== untouched) return;
      fate[thing] = lost;
      queue.push(thing);
    };
    for (let need = 0; need < of.length; need++) if ((counts[need] ?? 0) < (atLeast[need] ?? 0)) miss(of[need] ?? 0);
    for (let thing = queue.pop(); thing !== undefined; thing = queue.pop())
      for (let place = starts[thing] ?? 0; place < (starts[thing + 1] ?? 0); place++) {
        const need = fulfils[place] ?? 0;
        counts[need] = (counts[need] ?? 0) - 1;
        if ((counts[need] ?? 0) < (atLeast[need] ?? 0)) miss(of[need] ?? 0);
      }
    const whole = this.#bridged(away);
    return {
      fate,
      partOf,
      sizes,
      counts,
      hearts,
      ways: onlyWays(cabling, away, hearts),
      gateways: graph.gatewayGroups.map(({ layer, at, gateways }) =>
        gateways.filter((gateway) => whole(layer).joins(at, gateway)),
      ),
    };
  }

  /** Within each VLAN who hears whom, made when asked for. */
  #bridged(away: Away): (layer: number) => BridgedParts {
    const { graph } = this;
    const made = new Map<number, BridgedParts>();
    return (layer) => {
      let parts = made.get(layer);
      if (!parts) {
        const own = layer < 0 ? graph.cabling : graph.layerCabling(layer);
        const cut =
          layer < 0
            ? away.cables
            : Uint8Array.from(graph.layers[layer]?.cables ?? [], (cable) => away.cables[cable] ?? 0);
        made.set(layer, (parts = new BridgedParts(own, graph.bridges, away.devices, cut)));
      }
      return parts;
    };
  }

  /** Groups of things that have fewer gateways than before, and how many are left. */
  #gateways(away: Away, isLost: (thing: number) => boolean) {
    const { graph } = this;
    const bridged = this.#bridged(away);
    return graph.gatewayGroups.flatMap((group, at) => {
      const before = this.#before.gateways[at] ?? [];
      if (before.length === 0 || isLost(group.at)) return [];
      const left = before.filter((gateway) => !isLost(gateway) && bridged(group.layer).joins(group.at, gateway));
      if (left.length === before.length) return [];
      return [{ group, left: left.length, missing: before.filter((gateway) => !left.includes(gateway)) }];
    });
  }

  /** Machines of hosts that are off: where their cluster has room, those that need most first. */
  #restart(off: readonly number[], isLost: (thing: number) => boolean, reaches: (device: number) => boolean) {
    const { graph } = this;
    const clusterOf = new Map(graph.clusterHosts.map((host) => [host.device, host]));
    const room = new Map(graph.clusterHosts.map(({ device, roomBytes }) => [device, roomBytes]));
    return off
      .flatMap((host) => (graph.machinesOn.get(host) ?? []).flatMap((at) => graph.machines[at] ?? []))
      .sort((x, y) => (y.bytes ?? 0) - (x.bytes ?? 0) || x.machine - y.machine)
      .map(({ machine, inside, host, bytes }) => {
        const cluster = clusterOf.get(host)?.cluster ?? '';
        const others = graph.clusterHosts.filter(
          (one) =>
            cluster !== '' &&
            one.cluster === cluster &&
            one.device !== host &&
            !isLost(one.device) &&
            reaches(one.device),
        );
        const known = others.filter(({ roomBytes }) => roomBytes !== null && bytes !== null);
        const fitting = known
          .filter(({ device }) => (room.get(device) ?? 0) >= (bytes ?? 0))
          .sort((x, y) => (room.get(y.device) ?? 0) - (room.get(x.device) ?? 0) || x.device - y.device)[0];
        const unknown = others.find((one) => !known.includes(one));
        const on = fitting?.device ?? unknown?.device ?? null;
        if (fitting) room.set(fitting.device, (room.get(fitting.device) ?? 0) - (bytes ?? 0));
        return { machine, inside, host, on, isRoomKnown: on === null || fitting !== undefined };
      });
  }

  /** What is away and stands between a part and the rest. */
  #boundary(partOf: Int32Array, part: number, away: Away): Cause {
    const { cabling } = this.graph;
    const over = new Set<number>();
    const cables = new Set<number>();
    for (let device = 0; device < partOf.length; device++) {
      if (partOf[device] !== part) continue;
      for (let place = cabling.starts[device] ?? 0; place < (cabling.starts[device + 1] ?? 0); place++) {
        const cable = cabling.cable[place] ?? 0;
        const to = farEnd(cabling, cable, device);
        if (away.devices[to]) over.add(to);
        else if (away.cables[cable] && partOf[to] !== part) cables.add(cable);
      }
    }
    return { kind: 'cutOff', over: [...over], cables: [...cables] };
  }

  /** A device in the middle of what is left of each network: the one before where it stands there still. */
  heartsWith(away: Away): readonly number[] {
    const left = partsOf(this.graph.cabling, away);
    return this.#heartsOf(away, left.partOf, mainPieces(this.graph.cabling, this.#before, left));
  }

  #heartsOf(away: Away, partOf: Int32Array, main: Int32Array): readonly number[] {
    const { cabling, standing } = this.graph;
    const { hearts, partOf: before } = this.#before;
    const mainOf = (heart: number) => main[before[heart] ?? 0] ?? -1;
    const gone = hearts.filter((heart) => !isIn(partOf, heart, mainOf(heart)));
    if (gone.length === 0) return hearts;
    const pieces = gone.map(mainOf).filter((piece) => piece >= 0);
    const firsts = firstsOf(cabling, partOf, 1 + Math.max(-1, ...pieces));
    const starts = pieces.map((piece) => firsts[piece] ?? -1);
    const moved = new Set(gone);
    const kept = hearts.filter((heart) => !moved.has(heart));
    return [...kept, ...heartsOf(cabling, away, starts, standing)];
  }

  /** Devices that have only one of something now on their way to the heart of their network and had several before. */
  #spares(
    away: Away,
    off: readonly number[],
    partOf: Int32Array,
    main: Int32Array,
    weaken: (thing: number, why: Cause) => void,
  ): void {
    const { cabling, deviceCount } = this.graph;
    const known = this.#before;
    const hearts = this.#heartsOf(away, partOf, main);
    const then = hearts === known.hearts ? known.ways : onlyWays(cabling, nothingAway(cabling), hearts);
    const now = onlyWays(cabling, away, hearts);
    const fewer: number[] = [];
    for (let device = 0; device < deviceCount; device++)
      if ((now.depth[device] ?? -1) > (then.depth[device] ?? -1) && (then.depth[device] ?? -1) >= 0) fewer.push(device);
    if (fewer.length === 0) return;
    // which of them would give it back
    const single = off.length + away.cables.reduce((sum, one) => sum + one, 0) === 1;
    const givers =
      single || off.length > mostAskedOneByOne
        ? []
        : off.map((device) => {
            const without = { devices: away.devices.slice(), cables: away.cables };
            without.devices[device] = 0;
            return { device, depth: onlyWays(cabling, without, hearts).depth };
          });
    for (const device of fewer) {
      const back = givers.filter(({ depth }) => (depth[device] ?? 0) < (now.depth[device] ?? 0));
      const gone = back.length > 0 ? back.map((one) => one.device) : off;
      const before = new Set(devicesBetween(then, device));
      const over = devicesBetween(now, device).find((one) => !before.has(one)) ?? null;
      const cable = now.nearestCable[device] ?? -1;
      const isNew = cable >= 0 && cable !== then.nearestCable[device];
      weaken(device, { kind: 'spare', onlyOver: over, onlyCable: over === null && isNew ? cable : null, gone });
    }
  }
}

const isIn = (partOf: Int32Array, device: number, piece: number): boolean => piece >= 0 && partOf[device] === piece;
