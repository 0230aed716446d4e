import type { AttachmentFacts, Via } from './placement';
import type { Basis } from './settled';

/** Where a MAC was from one survey to another; `untilSurvey` null while it is. */
export interface PlaceVersion {
  fromSurvey: number;
  untilSurvey: number | null;
  content: Pick<AttachmentFacts, 'deviceId' | 'port' | 'vlan' | 'via' | 'basis' | 'addresses'>;
}

/** One stay at a port. */
export interface PlaceSpan {
  /** null where it was heard and nobody could say where it hangs */
  deviceId: number | null;
  port: string | null;
  vlan: number | null;
  via: Via | null;
  basis: Basis | null;
  addresses: string[];
  /** the survey that saw it there first, and the last one that did */
  fromSurvey: number;
  lastSurvey: number;
  /** it is there at the survey looked at */
  holds: boolean;
}

/**
 * Stays at ports from versions of what was known, oldest first: versions that follow each other on the same port are one stay, whatever else changed; a survey
 * that did not see the machine ends one.
 * @param at the survey looked at: what came later is not known yet
 * @param lastBefore the survey before a given one
 */
export function placeSpans(
  versions: readonly PlaceVersion[],
  at: number,
  lastBefore: (survey: number) => number,
): PlaceSpan[] {
  const spans: (PlaceSpan & { untilSurvey: number | null })[] = [];
  for (const { fromSurvey, untilSurvey, content } of [...versions].sort((x, y) => x.fromSurvey - y.fromSurvey)) {
    if (fromSurvey > at) continue;
    const until = untilSurvey !== null && untilSurvey <= at ? untilSurvey : null;
    const last = until === null ? at : lastBefore(until);
    const { deviceId, port, vlan, via, basis, addresses } = content;
    const told = { vlan, via, basis: deviceId === null ? null : (basis ?? ('heard' as const)), addresses };
    const before = spans.at(-1);
    if (before && before.untilSurvey === fromSurvey && before.deviceId === deviceId && before.port === port)
      Object.assign(before, {
        ...told,
        addresses: [...new Set([...before.addresses, ...addresses])],
        untilSurvey: until,
        lastSurvey: last,
        holds: until === null,
      });
    else
      spans.push({ deviceId, port, ...told, fromSurvey, lastSurvey: last, holds: until === null, untilSurvey: until });
  }
  return spans.map(({ untilSurvey: _until, ...span }) => span);
}
