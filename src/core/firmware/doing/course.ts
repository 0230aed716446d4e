/** When what was copied begins to run. */
export const starts = ['now', 'restart', 'window'] as const;
export type Start = (typeof starts)[number];

/** The image that is to run. */
export interface CourseImage {
  file: string;
  bytes: number | null;
  /** SHA-256; empty where it is not known */
  hash: string;
}

/**
 * Where a course stands. `checking`: nothing was sent; `copying`: the image goes there; `copied`: it lies there; `starting`: the device was told to start with it; `away`: it does not answer, as it should;
 * `comparing`: it is back, and is held against what it was.
 */
export const phases = ['checking', 'copying', 'copied', 'starting', 'away', 'comparing', 'ended'] as const;
export type Phase = (typeof phases)[number];

/**
 * How a course ended. `done`: it runs what it should, and all is as it was; `untouched`: it runs what it ran, and was not restarted; `kept`: it runs what it should, something is not as it was, and it was left so;
 * `rolled back`: it runs again what it ran; `failed`: it was restarted, and does not run what it should; `lost`: it was restarted and does not answer.
 */
export const endings = ['done', 'untouched', 'kept', 'rolled back', 'failed', 'lost'] as const;
export type Ending = (typeof endings)[number];

/** Endings after which a wave goes on. */
export const isWell = (ending: Ending | null): boolean => ending === 'done';

/** What is to be done to one component of a device, and how far that is: all that outlives the process that does it. Moments are milliseconds since the epoch. */
export interface Course {
  /** the release that ran, and the one that is to run */
  from: string;
  to: string;
  image: CourseImage;
  /** the image of the release that ran, for the way back; its file is empty where nobody knows it */
  imageBefore: CourseImage;
  start: Start;
  window: { from: number; until: number } | null;
  /** whether it goes back where something is not as it was */
  rollsBack: boolean;
  isOnTheWayBack: boolean;
  phase: Phase;
  /** by which its start can be told from the next, as it told before anything was sent; empty where it does not tell */
  startedAs: string;
  copySent: number | null;
  copyTries: number;
  /** since when it lies there */
  copiedSince: number | null;
  nextSent: number | null;
  restartSent: number | null;
  restartTries: number;
  silentSince: number | null;
  comparedSince: number | null;
  ending: Ending | null;
  reason: string;
  remedy: string;
}

export type WantedCourse = Pick<Course, 'from' | 'to' | 'image' | 'imageBefore' | 'start' | 'window' | 'rollsBack'>;

export const newCourse = (wanted: WantedCourse): Course => ({
  ...wanted,
  isOnTheWayBack: false,
  phase: 'checking',
  startedAs: '',
  copySent: null,
  copyTries: 0,
  copiedSince: null,
  nextSent: null,
  restartSent: null,
  restartTries: 0,
  silentSince: null,
  comparedSince: null,
  ending: null,
  reason: '',
  remedy: '',
});

/** An image that lies on a device. */
export interface HeldImage {
  file: string;
  /** the release that it is; empty where the device does not tell */
  release: string;
  /** SHA-256; empty where the device does not tell */
  hash: string;
}

/** What a device says of one of its components, in the middle of it all. */
export interface Seen {
  running: string;
  /** another whenever it was started again; empty where it does not tell */
  startedAs: string;
  images: readonly HeldImage[];
  /** the file with which it starts next; null where it does not tell, or starts with whatever came last */
  next: string | null;
  freeBytes: number | null;
  /** what it copies, or copied last */
  transfer: { file: string; state: 'running' | 'done' | 'failed'; percent: number | null; words: string } | null;
}

/** What kind of device it is, as far as that makes a difference. */
export interface Ways {
  /** it starts with what came by itself, once that is there, if it was told so with the copy */
  startsByItself: boolean;
  /** it must be told with which file it starts next */
  hasNext: boolean;
}

/** How long is waited for what, in milliseconds. */
export interface Patience {
  /** until one that nothing was done to is given up */
  answer: number;
  /** for a copy of which nothing is seen, and a restart that does not begin */
  effect: number;
  copy: number;
  /** until one that was restarted is back */
  back: number;
  /** until all that was there is there again */
  settle: number;
  copyTries: number;
  restartTries: number;
}

const minute = 60_000;
export const usualPatience: Patience = {
  answer: 3 * minute,
  effect: 2 * minute,
  copy: 90 * minute,
  back: 30 * minute,
  settle: 10 * minute,
  copyTries: 3,
  restartTries: 2,
};

/** Where equipment restarts in seconds nobody waits for minutes. */
export const faster = (patience: Patience, times: number): Patience => ({
  ...patience,
  answer: patience.answer / times,
  effect: patience.effect / times,
  copy: patience.copy / times,
  back: patience.back / times,
  settle: patience.settle / times,
});

/** What is to be done next. Whatever is sent is written down before, so that whoever takes over knows of it. */
export type Act = 'wait' | 'copy' | 'set next' | 'restart' | 'look before' | 'compare' | 'end';

export interface Turn {
  course: Course;
  act: Act;
}

/**
 * What follows from how far a course is and what the device says now. It is asked again and again, by whoever is there: it goes by what the device says, and never sends a second time what the device shows to have taken.
 * @param seen null where it does not answer
 * @param trouble why it does not, as far as that is known
 */
export function nextTurn(
  course: Course,
  seen: Seen | null,
  ways: Ways,
  now: number,
  patience = usualPatience,
  trouble = '',
): Turn {
  if (course.phase === 'ended') return { course, act: 'end' };
  return seen
    ? answered({ ...course, silentSince: null }, seen, ways, now, patience)
    : silent(course, now, patience, trouble);
}

const isRestarting = ({ phase }: Course): boolean => ['starting', 'away', 'comparing'].includes(phase);

function silent(before: Course, now: number, { answer, back }: Patience, trouble: string): Turn {
  const course = { ...before, silentSince: before.silentSince ?? now };
  const silentMs = now - (course.silentSince ?? now);
  // one that starts by itself was told so with the copy
  const mayBeAway = isRestarting(course) || (course.copySent !== null && course.phase !== 'checking');
  if (!mayBeAway)
    return silentMs < answer
      ? wait(course)
      : end(course, 'untouched', trouble || 'it does not answer', 'Look why, and begin it again: nothing was sent.');
  const away: Course = isRestarting(course) ? { ...course, phase: 'away' } : course;
  if (silentMs < back) return wait(away);
  return end(
    away,
    'lost',
    `it has not answered for ${Math.round(silentMs / minute)} minutes`,
    'Go to its console: it may be starting still, or not at all.',
  );
}

function answered(course: Course, seen: Seen, ways: Ways, now: number, patience: Patience): Turn {
  const isThere = seen.running === course.to;
  switch (course.phase) {
    case 'checking':
      return checked(course, seen);
    case 'copying':
      return isThere ? back(course, now) : copying(course, seen, ways, now, patience);
    case 'copied':
      if (isThere) return back(course, now);
      return copied(course, seen, ways, now, patience);
    case 'starting':
    case 'away':
      return isThere ? back(course, now) : starting(course, seen, ways, now, patience);
    default:
      return isThere ? { course, act: 'compare' } : onTheOld(course, seen);
  }
}

/** The file with which the release starts that a course is for. */
export const startFile = (course: Course, { images }: Pick<Seen, 'images'>): string =>
  lies(course, images)?.file ?? course.image.file;

/** Nothing was sent so far: is all as it was when this was planned? */
function checked(course: Course, { running, startedAs, images, freeBytes }: Seen): Turn {
  if (running === course.to) return end(course, 'done', `it ran ${course.to} already, and nothing was sent`, '');
  if (running !== course.from)
    return end(
      course,
      'untouched',
      `it runs ${running || 'what it does not tell'}, and not ${course.from} any more`,
      'Survey it, and plan it anew.',
    );
  const { bytes, file } = course.image;
  if (!lies(course, images) && freeBytes !== null && bytes !== null && freeBytes < bytes)
    return end(
      course,
      'untouched',
      `${file} has ${bytes.toLocaleString('en')} bytes, and ${freeBytes.toLocaleString('en')} are free`,
      'Delete what is not needed there.',
    );
  return { course: { ...course, phase: 'copying', startedAs }, act: 'look before' };
}

const lies = ({ image, to }: Course, images: readonly HeldImage[]): HeldImage | undefined =>
  images.find(({ file, release }) => (image.file !== '' && file === image.file) || (release !== '' && release === to));

function copying(course: Course, seen: Seen, ways: Ways, now: number, patience: Patience): Turn {
  const { image, copySent } = course;
  if (ways.startsByItself && copySent !== null && startedSince(course, seen)) return onTheOld(course, seen);
  const transfer = seen.transfer?.file === image.file && copySent !== null ? seen.transfer : null;
  if (transfer?.state === 'running') {
    if (now - (copySent ?? now) < patience.copy) return wait(course);
    return end(course, 'untouched', `${image.file} is being copied for too long`, 'Look at the way there.');
  }
  const held = lies(course, seen.images);
  const isWhole = held !== undefined && (held.hash === '' || image.hash === '' || held.hash === image.hash);
  if (isWhole && transfer?.state !== 'failed')
    return copied({ ...course, phase: 'copied', copiedSince: now }, seen, ways, now, patience);
  if (image.file === '')
    return end(course, 'failed', `the image of ${course.to} lies nowhere`, 'Put it into the folder of images.');
  if (copySent === null) return copyAgain(course, now);
  const words = held && !isWhole ? `what it got of ${image.file} has another SHA-256` : transfer?.words;
  if (words === undefined && transfer === null && now - copySent < patience.effect) return wait(course);
  if (course.copyTries < patience.copyTries) return copyAgain(course, now);
  return end(
    course,
    'untouched',
    words ?? `it was told ${patience.copyTries} times to copy ${image.file}, and does not`,
    'Look at the way there, and at what it says of it.',
  );
}

const copyAgain = (course: Course, now: number): Turn => ({
  course: { ...course, copySent: now, copyTries: course.copyTries + 1 },
  act: 'copy',
});

/** It lies there: when does it begin to run? */
function copied(before: Course, seen: Seen, ways: Ways, now: number, patience: Patience): Turn {
  const { window } = before;
  const hasStarted = startedSince(before, seen);
  const startsItself = ways.startsByItself && before.copySent !== null;
  if (hasStarted && (before.start === 'restart' || before.nextSent !== null || startsItself))
    return onTheOld(before, seen);
  // one that was started by somebody else before anything was asked of it is only another start to tell from
  const course = hasStarted ? { ...before, startedAs: seen.startedAs } : before;
  if (startsItself) return startingItself(course, now, patience);
  if (course.start === 'window' && window) {
    if (now < window.from) return wait(course);
    if (now >= window.until)
      return end(course, 'untouched', 'its window is over, and it was not restarted', 'Give it another window.');
  }
  if (course.start === 'restart') {
    if (!ways.hasNext) return wait(course);
    return setNext(course, seen, now, patience);
  }
  return starting({ ...course, phase: 'starting' }, seen, ways, now, patience);
}

/** It was told with the copy when to start. */
function startingItself(course: Course, now: number, { back }: Patience): Turn {
  const { start, window, copiedSince } = course;
  const since = start === 'window' && window ? window.until : (copiedSince ?? now);
  if (start === 'restart' || now - since < back) return wait(course);
  return end(
    course,
    'untouched',
    `it has ${course.image.file}, and does not start with it`,
    'Restart it by hand, or look at what it says of it.',
  );
}

function setNext(course: Course, seen: Seen, now: number, { effect }: Patience): Turn {
  const file = startFile(course, seen);
  if (seen.next === file) return wait(course);
  if (course.nextSent !== null && now - course.nextSent < effect) return wait(course);
  return { course: { ...course, nextSent: now }, act: 'set next' };
}

function starting(course: Course, seen: Seen, ways: Ways, now: number, patience: Patience): Turn {
  const { restartSent, restartTries } = course;
  if (startedSince(course, seen)) return onTheOld(course, seen);
  const file = startFile(course, seen);
  if (ways.hasNext && seen.next !== file) return setNext(course, seen, now, patience);
  if (restartSent !== null && now - restartSent < patience.effect) return wait(course);
  if (restartTries >= patience.restartTries)
    return end(
      course,
      'untouched',
      `it was told ${restartTries} times to restart, and does not`,
      'Restart it by hand, or look at what it says of it.',
    );
  // where it does not tell its starts apart, a second restart might be one too many
  if (restartSent !== null && seen.startedAs === '')
    return end(course, 'failed', `it was told to restart, and still runs ${seen.running}`, 'Look at its console.');
  return { course: { ...course, restartSent: now, restartTries: restartTries + 1 }, act: 'restart' };
}

const startedSince = ({ startedAs }: Course, seen: Seen): boolean =>
  startedAs !== '' && seen.startedAs !== '' && seen.startedAs !== startedAs;

const onTheOld = (course: Course, { running }: Seen): Turn =>
  end(
    course,
    'failed',
    `it came back with ${running || 'a release that it does not tell'}, not with ${course.to}`,
    'See what its console says of the image.',
  );

/** It runs what it should. */
const back = (course: Course, now: number): Turn => ({
  course: { ...course, phase: 'comparing', comparedSince: now },
  act: 'compare',
});

/**
 * What follows from holding it against what it was.
 * @param differences what is not as it was, in words
 */
export function afterComparing(
  course: Course,
  differences: readonly string[],
  seen: Seen,
  now: number,
  { settle }: Patience = usualPatience,
): Turn {
  if (differences.length === 0)
    return end(course, course.isOnTheWayBack ? 'rolled back' : 'done', course.isOnTheWayBack ? course.reason : '', '');
  // neighbours and peers come back one after the other
  if (now - (course.comparedSince ?? now) < settle) return wait(course);
  const [first = ''] = differences;
  const words = differences.length === 1 ? first : `${first}, and ${differences.length - 1} more`;
  if (course.isOnTheWayBack)
    return end(
      course,
      'rolled back',
      `${course.reason}; it runs ${course.to} again, and still ${words}`,
      'Look at it: the release was not the cause.',
    );
  if (!course.rollsBack) return end(course, 'kept', words, 'Look at it; it may go back.');
  return {
    course: {
      ...newCourse({
        ...course,
        ...{ from: course.to, to: course.from, image: course.imageBefore, imageBefore: course.image },
        ...{ start: 'now', window: null, rollsBack: false },
      }),
      isOnTheWayBack: true,
      phase: 'copying',
      startedAs: seen.startedAs,
      reason: words,
    },
    act: 'wait',
  };
}

const wait = (course: Course): Turn => ({ course, act: 'wait' });

function end(course: Course, ending: Ending, reason: string, remedy: string): Turn {
  const told =
    course.isOnTheWayBack && ending !== 'rolled back' ? `${course.reason}; on the way back: ${reason}` : reason;
  // on the way back nothing is untouched
  const own = course.isOnTheWayBack && ending === 'untouched' ? 'failed' : ending;
  return { course: { ...course, phase: 'ended', ending: own, reason: told, remedy }, act: 'end' };
}
