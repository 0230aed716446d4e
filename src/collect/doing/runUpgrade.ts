import { isWell, type Course, type Patience } from '../../core/firmware/doing/course';
import type { Store } from '../../store/base/database';
import {
  coursesOf,
  endUpgrade,
  keepCourse,
  keepStanding,
  noteUpgradeAnswer,
  noteUpgradeRequest,
  readUpgrade,
  type KeptCourse,
  type KeptUpgrade,
} from '../../store/upgrades';
import { updateKind } from '../../store/updateKind';
import { waysOf } from './openForUpdate';
import { takeTurn, type OpenedForUpdate } from './takeTurn';

export interface UpgradeAround {
  open: (kept: KeptCourse, url: string) => Promise<OpenedForUpdate>;
  /** where devices fetch images: `http://10.72.0.5:4790` */
  imagesAt: string;
  pause: (milliseconds: number) => Promise<void>;
  now?: () => number;
  lookMs?: number;
  patience?: Patience;
  /** where somebody dies, in tests */
  step?: (words: string) => void;
}

const usualLookMs = 10_000;
const nobody = () => undefined;

const isOver = ({ course }: KeptCourse): boolean => course.phase === 'ended';
const isBegun = ({ course, begunAt }: KeptCourse): boolean => begunAt !== null && course.phase !== 'ended';

/** Does an upgrade to its end, from wherever it is: so many devices at a time, and no more are begun after so many that did not end well, or while it is paused. */
export async function runUpgrade(store: Store, id: number, signal: AbortSignal, around: UpgradeAround): Promise<void> {
  const { pause, lookMs = usualLookMs } = around;
  while (!signal.aborted) {
    const kept = readUpgrade(store.db, id);
    if (!kept || kept.state === 'to be approved') return;
    const courses = coursesOf(store.db, id);
    const turns = turnsOf(kept, courses);
    if (turns.length === 0) {
      if (kept.state !== 'running') return;
      return endOf(store, kept, courses, new Date((around.now ?? Date.now)()));
    }
    await Promise.all(turns.map((one) => turn(store, one, around)));
    await pause(lookMs);
  }
}

const failuresIn = (courses: readonly KeptCourse[]): KeptCourse[] =>
  courses.filter((one) => isOver(one) && !isWell(one.course.ending));

/** Those under way, and as many more as may begin. */
function turnsOf({ state, atOnce, stopAfter }: KeptUpgrade, courses: readonly KeptCourse[]): KeptCourse[] {
  const underWay = courses.filter(isBegun);
  if (state !== 'running' || failuresIn(courses).length >= stopAfter) return underWay;
  // one that is back, and not as it was, may be the first of many
  if (underWay.some(({ course, lost }) => course.phase === 'comparing' && (lost?.length ?? 0) > 0)) return underWay;
  // one that lies there and waits for its window or its next restart is not away
  const away = underWay.filter(({ course }) => course.phase !== 'copied').length;
  const turns = [...underWay];
  for (const one of courses) {
    if (turns.length - underWay.length + away >= atOnce) break;
    // parts of one device go one after the other
    const isFree = turns.every(({ deviceId }) => deviceId !== one.deviceId);
    if (!isBegun(one) && !isOver(one) && isFree) turns.push(one);
  }
  return turns;
}

function endOf({ db }: Store, { id, stopAfter }: KeptUpgrade, courses: readonly KeptCourse[], now: Date): void {
  const failures = failuresIn(courses);
  const left = courses.filter((one) => !isOver(one)).length;
  const [first] = failures;
  if (left === 0 || !first) return endUpgrade(db, id, 'ended', '', now);
  endUpgrade(
    db,
    id,
    'stopped',
    `${failures.length} of ${courses.length} did not end well (${first.device}: ${first.course.reason}); after ${stopAfter} no more are begun, and ${left} stay as they are`,
    now,
  );
}

async function turn(store: Store, kept: KeptCourse, around: UpgradeAround): Promise<void> {
  const { db } = store;
  const { id, word } = kept;
  const { open, imagesAt, now = Date.now, patience, step = nobody } = around;
  let course: Course = kept.course;
  const url = `${imagesAt}/images/${word}/${encodeURIComponent(course.image.file)}`;
  await takeTurn(
    {
      course: () => course,
      keep: (next) => {
        step(`before ${next.phase}`);
        course = next;
        keepCourse(db, id, next, new Date(now()));
        step(`after ${next.phase}`);
      },
      before: () => kept.before,
      keepBefore: (before) => keepStanding(db, id, { before }),
      keepAfter: (after, lost) => keepStanding(db, id, { after, lost }),
      sending: (request) => {
        const number = noteUpgradeRequest(db, id, masked(request, word), new Date(now()));
        step(`before ${request.path}`);
        return number;
      },
      answered: (number, words) => {
        step('after it was sent');
        noteUpgradeAnswer(db, number, words, new Date(now()));
      },
    },
    {
      open: () => open(kept, url),
      ways: waysOf(updateKind(store, kept.deviceId)),
      imageUrl: url,
      now,
      ...(patience && { patience }),
    },
  );
}

/** The word of an image is a secret as long as it is fetched. */
const masked = <Request extends { body: unknown }>(request: Request, word: string): Request => ({
  ...request,
  body: JSON.parse(JSON.stringify(request.body).replaceAll(word, '…')) as unknown,
});
