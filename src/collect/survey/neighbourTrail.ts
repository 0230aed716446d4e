import type { DeviceReport } from '../../core/estate/facts';

/** The management addresses that devices heard of their neighbours, each with the path by which it was found. */
export class NeighbourTrail {
  readonly #paths = new Map<string, string>();
  #fresh: string[] = [];

  /** Remembers whom a device hears. The first path to an address stays: it is the shortest. */
  add({ device, neighbours }: Pick<DeviceReport, 'device' | 'neighbours'>): void {
    const before = this.#paths.get(device.address);
    for (const { port, managementAddresses } of neighbours) {
      for (const address of managementAddresses) {
        if (this.#paths.has(address) || address === device.address) continue;
        this.#paths.set(address, [before, `${device.name} ${port}`].filter(Boolean).join(' → '));
        this.#fresh.push(address);
      }
    }
  }

  /** Addresses heard since the last call that are worth asking. */
  next(isWorth: (address: string) => boolean): string[] {
    const fresh = this.#fresh;
    this.#fresh = [];
    return fresh.filter(isWorth);
  }

  pathTo(address: string): string | null {
    return this.#paths.get(address) ?? null;
  }
}
