import { formatBytes } from '../values/quantity';
import { compareReleases } from './release';

/** A release of a family as the catalogue describes it. */
export interface CatalogueRelease {
  vendor: string;
  family: string;
  release: string;
  /** day it was published, ISO */
  published: string;
  /** memory the device must have, bytes */
  minimumMemoryBytes: number | null;
  /** free flash the image needs, bytes */
  neededFlashBytes: number | null;
  /** lowest release from which one may go here directly */
  minimumFrom: string | null;
  /** lowest boot code */
  minimumBoot: string | null;
  /** models that cannot run it */
  excludedModels: string[];
  image: string;
}

export interface ReadinessSubject {
  vendor: string;
  family: string;
  model: string;
  release: string;
  bootRelease: string;
  memoryBytes: number | null;
  flashBytes: number | null;
  flashFreeBytes: number | null;
}

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
    | 'unknown'
    | 'targetOld'
    | 'fits';
  words: string;
  needed: string | null;
  have: string | null;
}

export interface Readiness {
  verdict: Verdict;
  reasons: ReadinessReason[];
}

/**
 * May this device go to its target? Every requirement is judged and written out, also the ones that hold, so that the verdict
 * can be followed. A value that is not known makes the verdict unknown, never ready.
 * `blocked`: hardware or memory forbids it. `ready after`: something can be done first (free flash, boot code, an intermediate release).
 */
export function judgeReadiness(subject: ReadinessSubject, target: string, catalogue: CatalogueRelease[]): Readiness {
  const family = catalogue.filter((entry) => entry.vendor === subject.vendor && entry.family === subject.family);
  const entry = family.find(({ release }) => release === target);
  const reasons: ReadinessReason[] = [];
  const age = newerSuitable(subject, target, family);
  const finish = (verdict: Verdict): Readiness => ({ verdict, reasons: [...reasons, ...age] });
  if (!subject.release) {
    reasons.push(reason('unknown', 'the running release is not known', target, null));
    return finish('unknown');
  }
  const order = compareReleases(subject.release, target);
  if (order === 0) {
    reasons.push(reason('current', `runs ${target} already`, target, subject.release));
    return finish('already there');
  }
  if (order > 0) {
    reasons.push(reason('newer', `runs ${subject.release}, which is later than the target`, target, subject.release));
    return finish('already there');
  }
  if (!entry) {
    reasons.push(
      reason(
        'unknown',
        `the catalogue has no ${subject.family || 'family'} release ${target}, so its needs are not known`,
        target,
        null,
      ),
    );
    return finish('unknown');
  }
  let blocked = false;
  let steps = false;
  let unknown = false;
  if (entry.excludedModels.includes(subject.model)) {
    blocked = true;
    reasons.push(reason('hardware', `${subject.model} cannot run ${target}`, null, subject.model));
  }
  const need = (kind: 'memory' | 'flash', needed: number | null, have: number | null, what: string): boolean | null => {
    if (needed === null) return true;
    if (have === null) {
      reasons.push(
        reason('unknown', `${what} is not known; ${target} needs ${formatBytes(needed)}`, formatBytes(needed), null),
      );
      unknown = true;
      return null;
    }
    const enough = have >= needed;
    if (enough)
      reasons.push(
        reason(
          'fits',
          `${what} ${formatBytes(have)} covers the ${formatBytes(needed)} needed`,
          formatBytes(needed),
          formatBytes(have),
        ),
      );
    else
      reasons.push(
        reason(
          kind,
          `${what} is ${formatBytes(have)}, ${target} needs ${formatBytes(needed)}`,
          formatBytes(needed),
          formatBytes(have),
        ),
      );
    return enough;
  };
  if (need('memory', entry.minimumMemoryBytes, subject.memoryBytes, 'memory') === false) blocked = true;
  if (need('flash', entry.neededFlashBytes, subject.flashFreeBytes, 'free flash') === false) {
    if (subject.flashBytes !== null && entry.neededFlashBytes !== null && subject.flashBytes < entry.neededFlashBytes) {
      blocked = true;
      reasons.push(
        reason(
          'hardware',
          `all flash together is ${formatBytes(subject.flashBytes)}: clearing it would not help`,
          formatBytes(entry.neededFlashBytes),
          formatBytes(subject.flashBytes),
        ),
      );
    } else steps = true;
  }
  if (entry.minimumBoot) {
    if (!subject.bootRelease) {
      unknown = true;
      reasons.push(
        reason('unknown', `boot code is not known; ${target} needs ${entry.minimumBoot}`, entry.minimumBoot, null),
      );
    } else if (compareReleases(subject.bootRelease, entry.minimumBoot) < 0) {
      steps = true;
      reasons.push(
        reason(
          'boot',
          `boot code ${subject.bootRelease} must first go to ${entry.minimumBoot}`,
          entry.minimumBoot,
          subject.bootRelease,
        ),
      );
    }
  }
  if (entry.minimumFrom && compareReleases(subject.release, entry.minimumFrom) < 0) {
    steps = true;
    reasons.push(
      reason(
        'intermediate',
        `from ${subject.release} it must go to ${entry.minimumFrom} first`,
        entry.minimumFrom,
        subject.release,
      ),
    );
  }
  return finish(blocked ? 'blocked' : unknown ? 'unknown' : steps ? 'ready after' : 'ready');
}

function reason(
  kind: ReadinessReason['kind'],
  words: string,
  needed: string | null,
  have: string | null,
): ReadinessReason {
  return { kind, words, needed, have };
}

/** A target may itself be old: the newest later release whose memory and model needs this device meets. */
function newerSuitable(subject: ReadinessSubject, target: string, family: CatalogueRelease[]): ReadinessReason[] {
  const later = family
    .filter((entry) => compareReleases(entry.release, target) > 0)
    .filter((entry) => !entry.excludedModels.includes(subject.model))
    .filter(
      (entry) =>
        entry.minimumMemoryBytes === null ||
        (subject.memoryBytes !== null && subject.memoryBytes >= entry.minimumMemoryBytes),
    )
    .sort((x, y) => compareReleases(y.release, x.release));
  const newest = later[0];
  return newest
    ? [
        reason(
          'targetOld',
          `the target is not the newest: ${newest.release} of ${newest.published} would also fit this device`,
          newest.release,
          target,
        ),
      ]
    : [];
}
