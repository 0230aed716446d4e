import type { Db } from '../../../store/base/database';
import { endpointVersions } from './endpointsTable';
import { moduleVersions } from './modulesTable';
import { portVersions } from './portsTable';

/** The versions of the large kinds of facts, read into memory up to a survey; one begun by somebody is finished by whoever comes next. */
export class LoadedVersions {
  readonly ports: ReturnType<typeof portVersions>;
  readonly endpoints: ReturnType<typeof endpointVersions>;
  readonly modules: ReturnType<typeof moduleVersions>;
  #loadedTo = 0;
  #unfinished: { upTo: number; steps: Generator<void> } | null = null;

  constructor(db: Db) {
    this.ports = portVersions(db);
    this.endpoints = endpointVersions(db);
    this.modules = moduleVersions(db);
  }

  /** whether those of some survey lie in memory: the few that came since are read soon */
  get begun(): boolean {
    return this.#loadedTo > 0;
  }

  /** Has the versions up to a survey there. */
  load(survey: number): void {
    for (const _ of this.loading(survey));
  }

  /** The same a step at a time. */
  *loading(survey: number): Generator<void> {
    while (this.#loadedTo < survey) {
      this.#unfinished ??= { upTo: survey, steps: this.#steps(survey) };
      const { upTo, steps } = this.#unfinished;
      if (steps.next().done) {
        this.#unfinished = null;
        this.#loadedTo = Math.max(this.#loadedTo, upTo);
      }
      yield;
    }
  }

  *#steps(survey: number): Generator<void> {
    yield* this.ports.continueTo(survey);
    yield* this.endpoints.continueTo(survey);
    yield* this.modules.continueTo(survey);
  }
}
