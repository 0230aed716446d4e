import type { Store } from '../../../store/base/database';
import { latestSealed } from '../../../store/base/sealedSurveys';
import { editStamp } from '../../../store/edits/log';
import { decisionStamp } from '../../../store/identityDecisions';
import { siteStamp } from '../../../store/sites';

/** What was written since one looked last, as far as tables follow from it. */
export interface Written {
  /** who is who, or where it stands: of all surveys */
  identities: boolean;
  /** a survey that was asked for, or one before it: sealed after a later one, or delivered to late */
  pastSurveys: boolean;
  contracts: boolean;
  makers: boolean;
}

/** Looks whether anything was written to a store, by this process or another one. */
export class StoreWatch {
  /** changes with every write */
  stamp = '';
  /** the latest sealed survey */
  newest = 0;
  #identities = '';
  #makers = '';
  #contracts = 0;
  #surveys: { id: number; stamp: string }[] = [];

  constructor(readonly store: Pick<Store, 'db' | 'raw'>) {}

  /** @param askedTo the latest survey that anybody asked for: what is written to later ones makes nothing untrue. Null where nothing was written */
  look(askedTo: number): Written | null {
    const { raw, db } = this.store;
    const stamp = `${String(raw.pragma('data_version', { simple: true }))} ${String((raw.prepare('select total_changes() as made').get() as { made: number }).made)}`;
    if (stamp === this.stamp) return null;
    this.stamp = stamp;
    const before = { identities: this.#identities, makers: this.#makers, contracts: this.#contracts };
    const surveys = raw
      .prepare<[], { id: number; stamp: string }>(
        "select id, id || ' ' || state || ' ' || coalesce(sealed_at, '') as stamp from survey order by id",
      )
      .all();
    const pastSurveys = this.#surveys.some(({ id, stamp: then }, at) => id <= askedTo && surveys[at]?.stamp !== then);
    this.#surveys = surveys;
    this.newest = latestSealed(db);
    this.#identities = `${decisionStamp(db)} ${siteStamp(db)}`;
    this.#contracts = editStamp(db, 'contracts');
    this.#makers = JSON.stringify(raw.prepare('select prefix, name from maker order by prefix').all());
    return {
      identities: this.#identities !== before.identities,
      pastSurveys,
      contracts: this.#contracts !== before.contracts,
      makers: this.#makers !== before.makers,
    };
  }
}
