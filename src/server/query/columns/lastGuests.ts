import { MacTable } from '../../../core/switching/macTable';
import type { AttachmentFacts } from '../../../core/switching/placement';
import type { FactVersions } from '../tables/factVersions';

/** When somebody was last plugged into each port, up to a survey: at that survey, or at the one before the place ended. One pass over all places there ever were. */
export class LastGuests {
  readonly #last = new MacTable(1 << 12);

  /** @param before the survey before another */
  constructor(
    readonly facts: FactVersions<AttachmentFacts>,
    survey: number,
    before: (survey: number) => number,
  ) {
    const [devices, ports, from, until] = [
      facts.column('deviceId'),
      facts.column('port'),
      facts.begun(),
      facts.ended(),
    ];
    for (let version = 0; version < from.length; version++) {
      const deviceId = Number(devices.dictionary.values[devices.codes[version] ?? 0]);
      if ((from[version] ?? 0) > survey || deviceId === 0) continue;
      const key = keyOf(deviceId, ports.codes[version] ?? 0);
      const end = until[version] ?? 0;
      this.#last.set(key, Math.max(this.#last.get(key), end > survey ? survey : before(end)));
    }
  }

  /** @returns the survey, or null where nobody ever was */
  at(deviceId: number, port: string): number | null {
    const code = this.facts.column('port').dictionary.find(port);
    const last = code === undefined ? -1 : this.#last.get(keyOf(deviceId, code));
    return last < 0 ? null : last;
  }
}

const keyOf = (deviceId: number, portCode: number): number => deviceId * 2 ** 24 + portCode;
