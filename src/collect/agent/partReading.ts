import { notAskedWords, onlySystemWords, stoppedWords, tooSlowWords } from '../../core/estate/gap';
import type { Harvest, HarvestPart } from '../../core/estate/harvest';
import { Answers, type TableRows } from '../../core/mib/table';
import type { Varbind } from '../../core/mib/varbind';
import { mostRootsAtOnce, SourceError, type VarbindSource } from '../source';
import type { PartQuestions, TableQuestion } from './questions';

/** Of an agent that answers, and drops what asks for one subtree. */
const droppedWords = (name: string): string =>
  `the device gives no answer to what asks for ${name}, and answers the rest`;

export interface PartReadingOptions {
  /** milliseconds of a steady clock */
  now: () => number;
  cancelled: () => boolean;
  /** waits a little for answers that nobody waits for any more: they tell slowness from silence */
  hearOut?: () => Promise<void>;
}

/** One device's parts as they are asked, with what stops them. */
export class PartReading {
  readonly parts: Harvest['parts'] = { system: { state: 'whole', seconds: 0 } };
  readonly answers = new Map<HarvestPart, Answers>();
  #silences = 0;
  /** what all parts ask by name, once it was asked together; null where each part must ask its own */
  #instances: Varbind[] | null = null;
  /** tables that hold something; null where that is not known */
  #present: Set<string> | null = null;

  constructor(
    readonly source: VarbindSource,
    readonly options: PartReadingOptions,
  ) {}

  /** The two questions that spare most of the others. Where one fails, the parts find out for themselves. */
  async prepare(all: PartQuestions[]): Promise<void> {
    if (this.options.cancelled()) return;
    const instances = all.flatMap(({ instances: own = [], family }) => (family ? [] : own));
    const tables = all.flatMap(({ tables: own }) => own);
    const attempt = async <T>(ask: Promise<T>): Promise<T | null> => {
      try {
        return await ask;
      } catch (error) {
        if (!(error instanceof SourceError)) throw error;
        if (error.fault === 'no answer' || error.fault === 'mute') this.#silences++;
        return null;
      }
    };
    [this.#instances, this.#present] = await Promise.all([
      attempt(this.source.get(instances)),
      attempt(this.#presentOf(tables)),
    ]);
  }

  /**
   * Which of these hold something: what is common with the first question; with a second one what lies in a subtree that holds something. The older table counts where the newer is
   * missing: it goes with the first question where there is room.
   */
  async #presentOf(tables: TableQuestion[]): Promise<Set<string>> {
    const common = tables.filter(({ family, insteadOf }) => !family && !insteadOf).map(({ entry }) => entry);
    const families = tables.flatMap(({ family = '' }) => family || []);
    const older = tables.filter(({ family, insteadOf }) => insteadOf && !family).map(({ entry }) => entry);
    const needed = new Set([...common, ...families]);
    const all = new Set([...needed, ...older]);
    const found = await this.source.present([...(all.size <= mostRootsAtOnce ? all : needed)]);
    const second = new Set(
      tables
        .filter(
          ({ family, insteadOf, entry }) =>
            (family !== undefined && family !== entry && found.has(family)) ||
            (all.size > mostRootsAtOnce && insteadOf !== undefined && !found.has(insteadOf)),
        )
        .map(({ entry }) => entry),
    );
    return second.size === 0 ? found : new Set([...found, ...(await this.source.present([...second]))]);
  }

  /** Whether a table is worth asking for, by what the agent was found to have. */
  #mayHold({ entry, insteadOf }: TableQuestion, present: ReadonlySet<string> | null): boolean {
    // where the newer table is there, nobody asked whether the older is too
    return present === null || present.has(entry) || (insteadOf !== undefined && present.has(insteadOf));
  }

  /** What is asked from now on was not thought of when everything was prepared. */
  forgetPrepared(): void {
    this.#instances = null;
    this.#present = null;
  }

  async read(part: HarvestPart, { instances = [], tables, family }: PartQuestions): Promise<void> {
    const started = this.options.now();
    const found = new Answers();
    let reason = '';
    const isSeldom = family !== undefined && this.#present !== null && !this.#present.has(family);
    if (instances.length > 0 && !isSeldom)
      reason = await this.#ask(async () =>
        found.addObjects(await (family ? this.source.get(instances) : this.#own(instances))),
      );
    for (const table of tables) {
      const { entry, columns, when } = table;
      if (reason) break;
      const dropped = [entry, table.family].find((name) => name !== undefined && this.source.unheard?.has(name));
      if (dropped !== undefined && (!when || when(found))) {
        reason = droppedWords(dropped);
        break;
      }
      if (!this.#mayHold(table, this.#present) || (when && !when(found))) continue;
      reason = await this.#askTable(found, this.source, entry, columns);
    }
    this.end(part, found, reason, started);
  }

  end(part: HarvestPart, found: Answers, reason: string, started: number): void {
    const seconds = (this.options.now() - started) / 1000;
    this.parts[part] = reason ? { state: 'failed', reason, seconds } : { state: 'whole', seconds };
    this.answers.set(part, found);
  }

  #own(instances: string[]): Promise<Varbind[]> {
    return this.#instances
      ? Promise.resolve(this.#instances.filter(({ oid }) => instances.includes(oid)))
      : this.source.get(instances);
  }

  /** What was read of a table before it broke off is kept. */
  #askTable(found: Answers, source: VarbindSource, entry: string, columns: readonly number[]): Promise<string> {
    return this.#ask(
      async () => found.addRows(entry, await source.columns(entry, columns)),
      (partial) => found.addRows(entry, partial),
    );
  }

  /** Says why a question broke off, if it did. */
  async #ask(ask: () => Promise<void>, onPartial: (rows: TableRows) => void = () => undefined): Promise<string> {
    if (this.#silences >= 2) return notAskedWords;
    if (this.options.cancelled()) return 'not asked: the survey was cancelled';
    try {
      await ask();
      return '';
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      onPartial(error.partial);
      if (error.fault === 'no answer' || error.fault === 'mute') this.#silences++;
      return error.fault === 'no answer' ? stoppedWords : error.message;
    }
  }

  /** The tables of one question list from another source, for a part that is put together from several. */
  async tablesOf(source: VarbindSource, tables: TableQuestion[]): Promise<{ found: Answers; reason: string }> {
    const found = new Answers();
    let present: Set<string> | null = null;
    let reason = await this.#ask(async () => {
      present = await source.present(tables.map(({ entry }) => entry));
    });
    for (const table of tables) {
      if (reason) break;
      if (!this.#mayHold(table, present) || (table.when && !table.when(found))) continue;
      reason = await this.#askTable(found, source, table.entry, table.columns);
    }
    return { found, reason };
  }

  /** Says more of what seemed to be silence: slowness, where an answer came after all; or that nothing but who it is was ever told. */
  async tellSilence(): Promise<void> {
    if (this.#silences === 0) return;
    await this.options.hearOut?.();
    const lateMs = this.source.lateMs?.() ?? null;
    const unheard = Object.entries(this.parts).filter(
      ([, told]) => told.state === 'failed' && [stoppedWords, notAskedWords].includes(told.reason),
    );
    const isAll = unheard.length === Object.keys(this.parts).length - 1;
    const words = lateMs !== null ? tooSlowWords(lateMs) : isAll ? onlySystemWords : null;
    if (words === null) return;
    for (const [part, told] of unheard)
      this.parts[part as HarvestPart] = { state: 'failed', reason: words, seconds: told.seconds };
  }

  now(): number {
    return this.options.now();
  }
}
