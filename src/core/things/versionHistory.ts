import { changedFields, type FieldChange } from '../estate/difference';

/** A version of a fact: from a survey on, until another found it gone or changed. */
export interface Version {
  fromSurvey: number;
  untilSurvey: number | null;
  content: object;
}

export interface VersionEvent {
  survey: number;
  kind: 'seen' | 'changed' | 'gone' | 'again';
  field: string;
  before: unknown;
  after: unknown;
}

/**
 * What happened to one thing, by its versions, newest first: when it was seen first, what changed, when it was gone and came again. What a later survey found is not told.
 * @param versions oldest first
 * @param differences in which fields a version differs from another
 */
export function versionHistory(
  versions: Version[],
  upTo: number,
  differences: (before: object, now: object) => FieldChange[] = (before, now) =>
    changedFields({ ...before }, { ...now }),
): VersionEvent[] {
  const events: VersionEvent[] = [];
  const add = (survey: number, kind: VersionEvent['kind'], field = '', before: unknown = null, after: unknown = null) =>
    events.push({ survey, kind, field, before, after });
  let previous: Version | undefined;
  for (const version of versions) {
    if (version.fromSurvey > upTo) break;
    if (!previous) add(version.fromSurvey, 'seen');
    else {
      if (previous.untilSurvey !== null && previous.untilSurvey < version.fromSurvey) {
        add(previous.untilSurvey, 'gone');
        add(version.fromSurvey, 'again');
      }
      for (const { field, before, after } of differences(previous.content, version.content))
        add(version.fromSurvey, 'changed', field, before, after);
    }
    previous = version;
  }
  if (previous?.untilSurvey !== null && previous !== undefined && previous.untilSurvey <= upTo)
    add(previous.untilSurvey, 'gone');
  return events.reverse();
}
