import type { GatewayGroup, HostedMachine, PreparedGraph } from './graph';

/** Whom things rest on, by all that is known of them: one step. */
export class Providers {
  readonly #needs = new Map<number, number[]>();
  readonly #groups = new Map<number, number[]>();
  readonly #machines = new Map<number, number>();

  constructor(readonly graph: PreparedGraph) {
    graph.needs.forEach(({ of }, need) => push(this.#needs, of, need));
    graph.gatewayGroups.forEach(({ things }, group) => things.forEach((thing) => push(this.#groups, thing, group)));
    graph.machines.forEach(({ machine, inside }, at) => {
      this.#machines.set(machine, at);
      if (inside >= 0) this.#machines.set(inside, at);
    });
  }

  /** What it needs, by the places of these. */
  needsOf(thing: number): readonly number[] {
    return this.#needs.get(thing) ?? [];
  }

  /** The machine it is, or runs in. */
  machineOf(thing: number): HostedMachine | undefined {
    return this.graph.machines[this.#machines.get(thing) ?? -1];
  }

  /** Who routes for it, by network, where somebody does. */
  groupsOf(thing: number): GatewayGroup[] {
    return (this.#groups.get(thing) ?? []).flatMap((group) => {
      const one = this.graph.gatewayGroups[group];
      return one && one.gateways.length > 0 ? [one] : [];
    });
  }

  /** Each way in which a thing rests on others: how many of whom it needs. */
  of(thing: number): { from: readonly number[]; atLeast: number; need: number | null }[] {
    const { graph } = this;
    const at = graph.hangsOn[thing] ?? -1;
    const machine = this.machineOf(thing);
    return [
      ...this.needsOf(thing).flatMap((need) => {
        const one = graph.needs[need];
        return one ? [{ from: one.from, atLeast: one.atLeast, need }] : [];
      }),
      ...(at >= 0 ? [{ from: [at], atLeast: 1, need: null }] : []),
      ...(machine && machine.machine === thing ? [{ from: [machine.host], atLeast: 1, need: null }] : []),
      ...(machine && machine.inside === thing ? [{ from: [machine.machine], atLeast: 1, need: null }] : []),
      ...this.groupsOf(thing).map(({ gateways }) => ({ from: gateways, atLeast: 1, need: null })),
    ];
  }

  /** All that a thing rests on, step by step, itself first. */
  closure(thing: number): number[] {
    const found = new Set([thing]);
    for (const one of found) for (const { from } of this.of(one)) for (const other of from) found.add(other);
    return [...found];
  }
}

function push(map: Map<number, number[]>, key: number, value: number): void {
  const known = map.get(key);
  if (known) known.push(value);
  else map.set(key, [value]);
}
