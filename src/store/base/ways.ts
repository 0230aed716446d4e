import type { Gap } from '../../core/estate/gap';
import type { WayIn } from '../../core/estate/facts';
import { wayNames, ownWays, tellingKinds } from '../../core/estate/ways';
import type { Db } from './database';
import { unpackWords } from './visitCodec';

interface WayVisit {
  address: string;
  outcome: string;
  reason: string | null;
  missing: string | null;
}

/** The ways in to devices that have several, a server's system and its management controller for one: when each answered last, and which kept silent while another answered. */
export class Ways {
  readonly #visits;
  readonly #answered;
  readonly #told;
  readonly #reported;
  readonly #toldEver;

  /** @param survey the newest that counts */
  constructor(
    { $client }: Db,
    readonly survey: number,
  ) {
    this.#visits = $client.prepare<[number, number], WayVisit>(
      "select address, outcome, reason, missing from visit where device_id = ? and survey_id = ? and state = 'done' and outcome is not null",
    );
    this.#answered = $client.prepare<[number, number, string], { surveyId: number | null }>(
      "select max(survey_id) as surveyId from visit where device_id = ? and survey_id <= ? and address = ? and outcome in ('answered', 'partial')",
    );
    this.#told = $client.prepare<[number, number], { surveyId: number | null }>(
      'select max(survey_id) as surveyId from told where device_id = ? and survey_id <= ?',
    );
    this.#reported = $client.prepare<[number, string], { surveyId: number }>(
      'select survey_id as surveyId from interface_report where device_id = ? and interface = ?',
    );
    this.#toldEver = $client.prepare<[number], object>('select 1 from told where device_id = ? limit 1');
  }

  /** The survey in which a way in answered last; 0 where it never did. */
  lastAnswer(deviceId: number, { kind, address }: WayIn): number {
    const reported = this.#reported.get(deviceId, kind)?.surveyId ?? Infinity;
    if (reported <= this.survey) return reported;
    // it told again later: what was kept then is known by who answered at its address
    const told = tellingKinds.has(kind) ? (this.#told.get(deviceId, this.survey)?.surveyId ?? 0) : 0;
    return told > 0 ? told : (this.#answered.get(deviceId, this.survey, address)?.surveyId ?? 0);
  }

  /** What a device that answered in a survey did not tell all the same, since one of its ways in was asked and kept silent, or broke off. */
  missing(deviceId: number, surveyId: number, ways: WayIn[]): Gap[] {
    if (ways.length < 2) return [];
    return this.#visits.all(deviceId, surveyId).flatMap(({ address, outcome, reason, missing }) => {
      if (outcome === 'answered') return [];
      const own = ownWays(ways, this.#toldEver.get(deviceId) !== undefined).filter((way) => way.address === address);
      if (own.length === 0) return [];
      if (outcome === 'partial') return (JSON.parse(missing ?? '[]') as Gap[] | null) ?? [];
      return [
        {
          part: `${own.map(({ kind }) => wayNames[kind]).join(' and ')} at ${address}`,
          reason: outcome === 'silent' || reason === null ? 'does not answer' : unpackWords(reason),
        },
      ];
    });
  }
}
