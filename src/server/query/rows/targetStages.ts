import type { ReleaseTarget, StageName } from '../../../core/firmware/target';
import { targetKey } from '../../../core/firmware/target';
import type { ReleaseOrder } from '../../../core/firmware/scheme';
import { dayAfter } from '../../../core/values/day';
import type { Db } from '../../../store/base/database';
import type { PlacedComponent } from './componentLines';

/** A component with the target it has. */
export interface Aimed {
  placed: PlacedComponent;
  target: ReleaseTarget;
  order: ReleaseOrder;
}

/** How far the stages of targets are: whose turn has come, and what the others wait for. */
export class TargetStages {
  readonly #stageOf = new Map<PlacedComponent, StageName>();
  readonly #waits = new Map<string, string>();
  readonly #until = new Map<string, string>();

  /**
   * @param meant whether a filter of devices means one
   * @param momentOf when a survey was, ISO
   */
  constructor(
    readonly db: Db,
    readonly survey: number,
    aimed: readonly Aimed[],
    meant: (where: string, placed: PlacedComponent) => boolean,
    readonly momentOf: (survey: number) => string,
  ) {
    const byTarget = new Map<string, Aimed[]>();
    for (const one of aimed) {
      if (one.target.stages.length === 0) continue;
      const key = targetKey(one.target);
      const own = byTarget.get(key) ?? [];
      byTarget.set(key, own);
      own.push(one);
      const stage = one.target.stages.find(({ where }) => meant(where, one.placed));
      this.#stageOf.set(one.placed, stage?.name ?? 'rest');
    }
    for (const [key, own] of byTarget) this.#follow(key, own);
  }

  /** Empty where its target has no stages. */
  stageOf(placed: PlacedComponent): StageName | '' {
    return this.#stageOf.get(placed) ?? '';
  }

  /** What it waits for, in words; empty where its turn has come. */
  waits(placed: PlacedComponent, target: ReleaseTarget): string {
    const stage = this.stageOf(placed);
    return stage === '' ? '' : (this.#waits.get(`${targetKey(target)} ${stage}`) ?? '');
  }

  /** The day from which it may go, where only time is waited for; empty where it is not. */
  until(placed: PlacedComponent, target: ReleaseTarget): string {
    const stage = this.stageOf(placed);
    return stage === '' ? '' : (this.#until.get(`${targetKey(target)} ${stage}`) ?? '');
  }

  #follow(key: string, aimed: readonly Aimed[]): void {
    const [first] = aimed;
    if (!first) return;
    const { target } = first;
    const day = this.momentOf(this.survey).slice(0, 10);
    let waits = '';
    let until = '';
    for (const { name, days } of target.stages) {
      if (waits) this.#waits.set(`${key} ${name}`, waits);
      if (until) this.#until.set(`${key} ${name}`, until);
      const own = aimed.filter(({ placed }) => this.#stageOf.get(placed) === name);
      const runs = (release: string, order: ReleaseOrder) =>
        release !== '' && order.compare(release, target.release) >= 0;
      const there = own.filter(({ placed, order }) => runs(placed.component.release, order));
      if (there.length < own.length)
        waits ||= `waits for ${stageWords[name]}: ${there.length} of ${own.length} run ${target.release}`;
      else if (own.length > 0 && days > 0) {
        const since = own.reduce((latest, one) => {
          const moment = this.#since(one, runs);
          return moment > latest ? moment : latest;
        }, '');
        const from = since === '' ? '' : dayAfter(since.slice(0, 10), days);
        if (from > until && from > day) until = from;
        if (from > day)
          waits ||= `waits until ${from}: ${stageWords[name]} runs ${target.release} since ${since.slice(0, 10)}, and ${days} days are to pass`;
      }
    }
    if (waits) this.#waits.set(`${key} rest`, waits);
    if (until) this.#until.set(`${key} rest`, until);
  }

  /** Since when it runs its target or a later release; of parts that is not kept, and no time is waited for them. */
  #since({ placed, order }: Aimed, runs: (release: string, order: ReleaseOrder) => boolean): string {
    if (placed.component.kind !== 'system') return '';
    const versions = this.db.$client
      .prepare<[number, number], { survey: number; release: string }>(
        `select from_survey as survey, json_extract(content, '$.release') as release from device_fact
         where device_id = ? and from_survey <= ? order by from_survey desc`,
      )
      .all(placed.deviceId, this.survey);
    let since = '';
    for (const { survey, release } of versions) {
      if (!runs(release, order)) break;
      since = this.momentOf(survey);
    }
    return since;
  }
}

const stageWords: Readonly<Record<'try-out' | 'early', string>> = { 'try-out': 'the try-out', early: 'the early ones' };
