import type { Cover } from '../cover/cover';
import { formatBytes } from '../values/quantity';
import type { Severity } from './advisories/advisory';
import { mayBeSent, type ImageStanding } from './image';
import { isSameLine, mayBeTarget, type CatalogueRelease } from './catalogue';
import type { Component, ComponentKind } from './components';
import { naturalOrder, type ReleaseOrder } from './scheme';

/** What of a device is judged. */
export interface ReadinessSubject {
  vendor: string;
  family: string;
  component: ComponentKind;
  model: string;
  release: string;
  bootRelease: string;
  memoryBytes: number | null;
  flashBytes: number | null;
  flashFreeBytes: number | null;
  /** revision of the hardware; empty where it is not told */
  hardwareRevision: string;
  /** what else of the device has a release */
  parts: readonly Pick<Component, 'kind' | 'name' | 'release'>[];
  /** an image that lies on it and does not run; empty for none */
  standbyRelease?: string;
}

/** An advisory, as far as readiness tells of it. */
export interface OpenAdvisory {
  number: string;
  severity: Severity;
  /** the release in which it is mended; null where none is known */
  mendedIn: string | null;
}

/** What else decides whether a device may go, beside what it is. What is left out is not judged. */
export interface ReadinessAround {
  /** the day it is judged on, ISO */
  today?: string;
  /** how its serial is covered; null where it tells no serial */
  cover?: Pick<Cover, 'state' | 'until'> | null;
  /** what it says of its configuration, where not all of it is saved; empty where it is */
  unsaved?: string;
  /** whole days since it answered last; null where it never did */
  answeredDaysAgo?: number | null;
  /** how its clock is wrong; empty where it is not */
  clock?: string;
  /** why nobody is to touch it now; empty where nothing forbids it */
  maintenance?: string;
  /** how the image of the target stands; null where the catalogue names none */
  image?: ImageStanding | null;
  /** for whom it waits; empty where its turn has come */
  waits?: string;
  /** what is known to be wrong with what runs, and with the target */
  advisories?: { current: readonly OpenAdvisory[]; target: readonly OpenAdvisory[] };
  /** day on which somebody was to look at the target again */
  reviewOn?: string | null;
}

/** An answer that is older says nothing of tonight. */
const freshDays = 7;

export const verdicts = ['ready', 'ready after', 'blocked', 'already there', 'unknown'] as const;
export type Verdict = (typeof verdicts)[number];

export interface ReadinessReason {
  kind:
    | 'current'
    | 'newer'
    | 'memory'
    | 'flash'
    | 'boot'
    | 'intermediate'
    | 'hardware'
    | 'component'
    | 'mixed'
    | 'cover'
    | 'configuration'
    | 'answer'
    | 'clock'
    | 'image'
    | 'maintenance'
    | 'stage'
    | 'advisory'
    | 'unknown'
    | 'targetOld'
    | 'targetWithdrawn'
    | 'targetAdvisory'
    | 'targetReview'
    | 'fits';
  words: string;
  needed: string | null;
  have: string | null;
  /** where what it has was read */
  source: string;
}

export interface Readiness {
  verdict: Verdict;
  reasons: ReadinessReason[];
}

/** Kinds of reasons that say something of the target and not of the device. */
export const ofTarget: ReadonlySet<ReadinessReason['kind']> = new Set([
  'targetOld',
  'targetWithdrawn',
  'targetAdvisory',
  'targetReview',
]);

/** What is wrong with a target itself, in a word each. */
export const targetFindings: Readonly<Partial<Record<ReadinessReason['kind'], string>>> = {
  targetOld: 'not the newest',
  targetWithdrawn: 'withdrawn or ended',
  targetAdvisory: 'open advisory',
  targetReview: 'review is due',
};

/**
 * May this device go to its target? Every requirement is judged and written out, also the ones that hold, so that the verdict can be followed. A value that is not known makes the verdict unknown, never ready.
 * `blocked`: hardware, memory or cover forbids it. `ready after`: something can be done first (free flash, boot code, another part, releases on the way, saving the configuration, waiting for others).
 * @param catalogue all entries; those of the family are looked at
 * @param order in which its releases stand
 * @param around what else decides
 */
export function judgeReadiness(
  subject: ReadinessSubject,
  target: string,
  catalogue: readonly CatalogueRelease[],
  order: ReleaseOrder = naturalOrder,
  around: ReadinessAround = {},
): Readiness {
  const line = catalogue.filter((entry) => isSameLine(entry, subject));
  const judge = new Judge(subject, target, line, order, around);
  return judge.judge();
}

class Judge {
  readonly #reasons: ReadinessReason[] = [];
  readonly #entry: CatalogueRelease | undefined;
  #isBlocked = false;
  #isUnknown = false;
  #hasSteps = false;

  constructor(
    readonly subject: ReadinessSubject,
    readonly target: string,
    readonly line: readonly CatalogueRelease[],
    readonly order: ReleaseOrder,
    readonly around: ReadinessAround,
  ) {
    this.#entry = line.find(({ release }) => order.compare(release, target) === 0);
  }

  judge(): Readiness {
    const { release, family } = this.subject;
    const { target } = this;
    if (!release) {
      this.#tell('unknown', 'the running release is not known: ask the device again', target, null);
      return this.#end('unknown');
    }
    const order = this.order.compare(release, target);
    if (order >= 0) {
      if (order === 0) this.#tell('current', `runs ${target} already`, target, release);
      else this.#tell('newer', `runs ${release}, which is later than the target`, target, release);
      return this.#end(this.#mixed() ? 'ready after' : 'already there');
    }
    const entry = this.#entry;
    if (!entry) {
      const words = `the catalogue has no ${family || 'family'} release ${target}, so its needs are not known`;
      this.#tell('unknown', words, target, null);
      return this.#end('unknown');
    }
    this.#mixed();
    this.#answer();
    this.#models(entry);
    this.#size('memory', entry.minimumMemoryBytes, this.subject.memoryBytes, 'memory');
    this.#flash(entry);
    this.#boot(entry);
    this.#others(entry);
    this.#way(entry);
    this.#covered(entry);
    this.#image();
    this.#doFirst();
    return this.#end(
      this.#isBlocked ? 'blocked' : this.#isUnknown ? 'unknown' : this.#hasSteps ? 'ready after' : 'ready',
    );
  }

  #tell(
    kind: ReadinessReason['kind'],
    words: string,
    needed: string | null,
    have: string | null,
    source = 'the device',
  ): void {
    this.#reasons.push({ kind, words, needed, have, source });
  }

  /** What it told long ago may be so no more. */
  #answer(): void {
    const { answeredDaysAgo: days } = this.around;
    if (days === undefined || (days !== null && days <= freshDays)) return;
    this.#isUnknown = true;
    const words = days === null ? 'it never answered' : `it answered last ${days} days ago`;
    this.#tell(
      'answer',
      `${words}: ask it again before`,
      `at most ${freshDays} days ago`,
      days === null ? null : `${days} days ago`,
      'surveys',
    );
  }

  /** Whether one is entitled to the release. */
  #covered({ needsCover }: CatalogueRelease): void {
    const { cover } = this.around;
    if (!needsCover || cover === undefined) return;
    if (cover === null) {
      this.#isUnknown = true;
      this.#tell('unknown', `${this.target} needs cover, and it tells no serial by which that is known`, 'cover', null);
      return;
    }
    const { state, until } = cover;
    if (state === 'covered' || state === 'ending') {
      const words = `covered${until ? ` until ${until}` : ''}, as ${this.target} needs`;
      this.#tell('fits', words, 'cover', until, 'contracts');
      return;
    }
    this.#isBlocked = true;
    const words = {
      ended: `its cover ended${until ? ` on ${until}` : ''}`,
      coming: 'its cover has not begun',
      none: 'no contract covers it',
    }[state];
    this.#tell('cover', `${words}: it is not entitled to ${this.target}`, 'cover', until, 'contracts');
  }

  /** Whether what would be sent to it is there, and is what it should be. */
  #image(): void {
    const { image } = this.around;
    if (!image) return;
    const { state, words, needed, have } = image;
    if (!mayBeSent(state)) this.#hasSteps = true;
    this.#tell(mayBeSent(state) ? 'fits' : 'image', words, needed, have, 'the folder of images');
  }

  /** What is to be done or waited for, whatever the release. */
  #doFirst(): void {
    const { unsaved = '', clock = '', maintenance = '', waits = '' } = this.around;
    if (unsaved) {
      this.#hasSteps = true;
      this.#tell('configuration', `save its configuration first: ${unsaved}`, 'all saved', unsaved);
    }
    if (clock) {
      this.#hasSteps = true;
      this.#tell(
        'clock',
        `set its clock first, which ${clock}: windows and certificates go by it`,
        'the right time',
        clock,
      );
    }
    if (maintenance) {
      this.#hasSteps = true;
      this.#tell('maintenance', `somebody works on it: ${maintenance}`, null, maintenance, 'maintenance');
    }
    if (waits) {
      this.#hasSteps = true;
      this.#tell('stage', waits, null, null, 'the stages of the target');
    }
  }

  #end(verdict: Verdict): Readiness {
    this.#aboutTarget();
    return { verdict, reasons: this.#reasons };
  }

  #models({ excludedModels, hardware }: CatalogueRelease): void {
    const { model, hardwareRevision } = this.subject;
    if (excludedModels.includes(model)) {
      this.#isBlocked = true;
      this.#tell('hardware', `${model} cannot run ${this.target}`, null, model);
    }
    const need = hardware.find((one) => one.model === model);
    if (!need) return;
    if (!hardwareRevision) {
      this.#isUnknown = true;
      this.#tell(
        'unknown',
        `the hardware revision is not known; ${this.target} needs ${need.revision} of a ${model}`,
        need.revision,
        null,
      );
    } else if (naturalOrder.compare(hardwareRevision, need.revision) < 0) {
      this.#isBlocked = true;
      this.#tell(
        'hardware',
        `hardware revision ${hardwareRevision} of a ${model} cannot run ${this.target}, which needs ${need.revision}`,
        need.revision,
        hardwareRevision,
      );
    } else this.#tell('fits', `hardware revision ${hardwareRevision} will do`, need.revision, hardwareRevision);
  }

  /** @returns whether there is enough; null where it is not known */
  #size(
    kind: 'memory' | 'flash' | 'hardware',
    needed: number | null,
    have: number | null,
    what: string,
  ): boolean | null {
    if (needed === null) return true;
    const wanted = formatBytes(needed);
    if (have === null) {
      this.#isUnknown = true;
      this.#tell('unknown', `${what} is not known; ${this.target} needs ${wanted}`, wanted, null);
      return null;
    }
    const isEnough = have >= needed;
    if (isEnough)
      this.#tell('fits', `${what} ${formatBytes(have)} covers the ${wanted} needed`, wanted, formatBytes(have));
    else this.#tell(kind, `${what} is ${formatBytes(have)}, ${this.target} needs ${wanted}`, wanted, formatBytes(have));
    if (kind === 'memory' && !isEnough) this.#isBlocked = true;
    return isEnough;
  }

  #flash({ minimumFlashBytes, neededFlashBytes }: CatalogueRelease): void {
    const { flashBytes, flashFreeBytes } = this.subject;
    // what there is not altogether cannot be cleared
    if (this.#size('hardware', minimumFlashBytes, flashBytes, 'all flash together') === false) this.#isBlocked = true;
    if (this.#size('flash', neededFlashBytes, flashFreeBytes, 'free flash') !== false) return;
    if (flashBytes !== null && neededFlashBytes !== null && flashBytes < neededFlashBytes) {
      this.#isBlocked = true;
      this.#tell(
        'hardware',
        `all flash together is ${formatBytes(flashBytes)}: clearing it would not help`,
        formatBytes(neededFlashBytes),
        formatBytes(flashBytes),
      );
    } else {
      this.#hasSteps = true;
      const { standbyRelease = '' } = this.subject;
      if (standbyRelease)
        this.#tell('flash', `${standbyRelease} lies in standby and could be deleted`, null, standbyRelease);
    }
  }

  #boot({ minimumBoot }: CatalogueRelease): void {
    const { bootRelease } = this.subject;
    if (!minimumBoot) return;
    if (!bootRelease) {
      this.#isUnknown = true;
      this.#tell('unknown', `boot code is not known; ${this.target} needs ${minimumBoot}`, minimumBoot, null);
    } else if (naturalOrder.compare(bootRelease, minimumBoot) < 0) {
      this.#hasSteps = true;
      this.#tell('boot', `boot code ${bootRelease} must first go to ${minimumBoot}`, minimumBoot, bootRelease);
    }
  }

  /** Other parts that must be at a release first. */
  #others({ others }: CatalogueRelease): void {
    for (const { component, release } of others) {
      const own = this.subject.parts.filter(({ kind }) => kind === component);
      if (own.length === 0) {
        this.#isUnknown = true;
        this.#tell('unknown', `no ${component} tells its release; ${this.target} needs ${release}`, release, null);
      }
      for (const part of own) {
        const words = [component, part.name].filter(Boolean).join(' ');
        if (naturalOrder.compare(part.release, release) >= 0) {
          this.#tell('fits', `${words} runs ${part.release}`, release, part.release);
          continue;
        }
        this.#hasSteps = true;
        this.#tell('component', `${words} ${part.release} must first go to ${release}`, release, part.release);
      }
    }
  }

  /** Supervisors or members of a stack that run different releases: they are made one first. */
  #mixed(): boolean {
    let found = false;
    for (const kind of ['supervisor', 'stack member'] as const) {
      const releases = [
        ...new Set(this.subject.parts.filter((part) => part.kind === kind).map(({ release }) => release)),
      ].sort(this.order.compare);
      if (releases.length < 2) continue;
      found = true;
      this.#hasSteps = true;
      const many = kind === 'supervisor' ? 'supervisors' : 'members of the stack';
      this.#tell(
        'mixed',
        `its ${many} run ${releases.join(' and ')}: make them one first`,
        this.target,
        releases.join(', '),
      );
    }
    return found;
  }

  /** Releases that must be run on the way, in their order. */
  #way({ through, minimumFrom }: CatalogueRelease): void {
    const { release } = this.subject;
    const { compare } = this.order;
    const wanted = [...through, ...(minimumFrom ? [minimumFrom] : [])];
    const steps = [...new Set(wanted)]
      .filter((one) => compare(one, release) > 0 && compare(one, this.target) < 0)
      .sort(compare);
    if (steps.length === 0) return;
    this.#hasSteps = true;
    const [first = ''] = steps;
    const words =
      steps.length === 1
        ? `from ${release} it must go to ${first} first`
        : `from ${release} it must go by way of ${steps.slice(0, -1).join(', ')} and ${steps.at(-1)}`;
    this.#tell('intermediate', words, steps.join(', '), release);
  }

  /** A target may itself be old, or withdrawn: it must not look well because a device runs it. */
  #aboutTarget(): void {
    const { target } = this;
    const entry = this.#entry;
    const { advisories, reviewOn, today = '' } = this.around;
    const current = advisories?.current ?? [];
    // of what runs its target the target tells it
    if (current.length > 0 && this.order.compare(this.subject.release, target) !== 0)
      this.#tell(
        'advisory',
        `${this.subject.release} has ${advisoryWords(current)}`,
        null,
        numbersOf(current),
        'advisories',
      );
    const ofTarget = advisories?.target ?? [];
    if (ofTarget.length > 0)
      this.#tell(
        'targetAdvisory',
        `the target itself has ${advisoryWords(ofTarget)}`,
        mendingOf(ofTarget),
        numbersOf(ofTarget),
        'advisories',
      );
    if (reviewOn && today >= reviewOn)
      this.#tell('targetReview', `the target was to be looked at again on ${reviewOn}`, null, reviewOn, 'targets');
    if (entry && !mayBeTarget(entry)) {
      const words = entry.status === 'withdrawn' ? 'was withdrawn by its maker' : 'is not mended any more';
      this.#tell(
        'targetWithdrawn',
        `the target ${words}${entry.ends ? `, since ${entry.ends}` : ''}`,
        null,
        target,
        'the catalogue',
      );
    }
    const newest = this.line
      .filter((one) => this.order.compare(one.release, target) > 0 && mayBeTarget(one) && this.#wouldFit(one))
      .sort((x, y) => this.order.compare(y.release, x.release))[0];
    if (newest)
      this.#tell(
        'targetOld',
        `the target is not the newest: ${newest.release} of ${newest.published} would also fit this device`,
        newest.release,
        target,
        'the catalogue',
      );
  }

  #wouldFit({ excludedModels, minimumMemoryBytes, minimumFlashBytes }: CatalogueRelease): boolean {
    const { model, memoryBytes, flashBytes } = this.subject;
    const covers = (needed: number | null, have: number | null) => needed === null || (have !== null && have >= needed);
    return (
      !excludedModels.includes(model) &&
      covers(minimumMemoryBytes, memoryBytes) &&
      covers(minimumFlashBytes, flashBytes)
    );
  }
}

const numbersOf = (advisories: readonly OpenAdvisory[]): string => advisories.map(({ number }) => number).join(', ');

const mendingOf = (advisories: readonly OpenAdvisory[]): string | null =>
  [...new Set(advisories.flatMap(({ mendedIn }) => mendedIn ?? []))].join(', ') || null;

/** `an open advisory, KS-2026-04 (critical, mended in 7.4.12b)`. */
function advisoryWords(advisories: readonly OpenAdvisory[]): string {
  const [first] = advisories;
  if (!first) return '';
  const one = `${first.number} (${first.severity}${first.mendedIn ? `, mended in ${first.mendedIn}` : ''})`;
  return advisories.length === 1 ? `an open advisory, ${one}` : `${advisories.length} open advisories, first ${one}`;
}
