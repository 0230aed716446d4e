import type { WayKind } from '../../core/estate/facts';

/** Devices that answered in a survey, each with the ways in by which it did. */
export class AnsweredDevices {
  readonly #byDevice = new Map<number, Set<WayKind>>();

  add(deviceId: number, kind: WayKind): void {
    const kinds = this.#byDevice.get(deviceId);
    if (kinds) kinds.add(kind);
    else this.#byDevice.set(deviceId, new Set([kind]));
  }

  knows(deviceId: number): boolean {
    return this.#byDevice.has(deviceId);
  }

  has(deviceId: number, kind: WayKind): boolean {
    return this.#byDevice.get(deviceId)?.has(kind) ?? false;
  }

  get devices(): number {
    return this.#byDevice.size;
  }
}
