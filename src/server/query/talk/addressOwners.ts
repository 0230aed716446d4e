import type { AddressFacts, DeviceFacts } from '../../../core/estate/facts';
import type { Db } from '../../../store/base/database';
import { factHistory } from '../../../store/base/facts';
import { Calendar } from '../calendar';

/** Who had an address from one survey on and before another. */
interface Owned {
  deviceId: number;
  from: number;
  /** Infinity while it is so */
  until: number;
}

const nobody = 0;

/** Whose an address was when it was heard, by the numbers of devices: one that several devices had is nobody's. */
export class AddressOwners {
  readonly #owned = new Map<string, Owned[]>();
  readonly #surveys: { id: number; at: number }[];
  readonly #names = new Map<number, string>();

  /** @param survey the survey that is viewed: of later ones nothing is known */
  constructor(
    db: Db,
    readonly survey: number,
  ) {
    const calendar = new Calendar(db);
    this.#surveys = calendar.between(0, survey).map((id) => ({ id, at: Date.parse(calendar.momentOf(id)) / 1000 }));
    for (const { deviceId, fromSurvey, untilSurvey, content } of factHistory<DeviceFacts>(db, 'device')) {
      if (fromSurvey > survey) continue;
      this.#names.set(deviceId, content.name);
      for (const address of new Set([content.address, ...content.addresses]))
        this.#own(address, deviceId, fromSurvey, untilSurvey);
    }
    for (const { deviceId, fromSurvey, untilSurvey, content } of factHistory<AddressFacts>(db, 'address'))
      // addresses of another virtual router may be anybody's
      if (fromSurvey <= survey && !content.vrf) this.#own(content.address, deviceId, fromSurvey, untilSurvey);
  }

  /** What a device was called last. */
  nameOf = (deviceId: number): string => this.#names.get(deviceId) ?? '';

  /** The only device that ever had an address; null where it changed hands or several had it, 0 where nobody had. */
  onlyOwner(address: string): number | null {
    const owned = this.#owned.get(address);
    if (!owned) return nobody;
    const [first] = owned;
    // an address that its owner gave up is nobody's from then on
    return first && owned.every(({ deviceId, until }) => deviceId === first.deviceId && until === Infinity)
      ? first.deviceId
      : null;
  }

  /** Whose an address was at a moment: as the survey before it told; where none told yet, as the first one did. @param seconds since the epoch */
  ownerAt(address: string, seconds: number): number {
    const owned = this.#owned.get(address);
    if (!owned) return nobody;
    const survey = this.#surveys.findLast(({ at }) => at <= seconds)?.id ?? 0;
    const then = owned.filter(({ from, until }) => from <= survey && survey < until);
    if (then.length > 0) return oneOf(then);
    const next = Math.min(...owned.flatMap(({ from }) => (from > survey ? [from] : [])));
    return oneOf(owned.filter(({ from }) => from === next));
  }

  #own(address: string, deviceId: number, from: number, untilSurvey: number | null): void {
    const until = untilSurvey === null || untilSurvey > this.survey ? Infinity : untilSurvey;
    const known = this.#owned.get(address);
    if (!known) return void this.#owned.set(address, [{ deviceId, from, until }]);
    const before = known.find((one) => one.deviceId === deviceId && one.until >= from && one.from <= until);
    if (!before) return void known.push({ deviceId, from, until });
    before.from = Math.min(before.from, from);
    before.until = Math.max(before.until, until);
  }
}

function oneOf(owned: readonly Owned[]): number {
  const [first] = owned;
  return first && owned.every(({ deviceId }) => deviceId === first.deviceId) ? first.deviceId : nobody;
}
