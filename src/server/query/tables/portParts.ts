import type { PortKind } from '../../../core/estate/facts';
import type { Db } from '../../../store/base/database';
import { contentsOf, versionNumbersAsOf } from '../../../store/base/facts';
import { portMomentSurveys, portMomentsWritten } from '../../../store/base/portMoments';

/**
 * What is kept of all ports of a device in one piece: their kinds, and since when they have been as they are. A piece is read once, however many surveys it holds in.
 */
export class PortParts {
  readonly #kinds = new Map<number, Record<string, PortKind>>();
  readonly #moments = new Map<string, Record<string, number>>();

  constructor(readonly db: Db) {}

  /** By device, then by port. */
  kindsAsOf(survey: number): Map<number, Record<string, PortKind>> {
    const rows = versionNumbersAsOf(this.db, 'portKind', survey);
    const unread = rows.flatMap(({ id }) => (this.#kinds.has(id) ? [] : [id]));
    contentsOf<Record<string, PortKind>>(this.db, 'portKind', unread).forEach((content, at) =>
      this.#kinds.set(unread[at] ?? 0, content ?? {}),
    );
    return new Map(rows.map(({ id, deviceId }) => [deviceId, this.#kinds.get(id) ?? {}]));
  }

  /** By device, then by port, in seconds since the epoch. */
  momentsAsOf(survey: number): Map<number, Record<string, number>> {
    return new Map(
      portMomentSurveys(this.db, survey).map(({ deviceId, surveyId }) => {
        const key = `${deviceId} ${surveyId}`;
        let moments = this.#moments.get(key);
        if (!moments) this.#moments.set(key, (moments = portMomentsWritten(this.db, deviceId, surveyId)));
        return [deviceId, moments];
      }),
    );
  }
}
