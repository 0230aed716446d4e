import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { afterComparing, newCourse, nextTurn, usualPatience, type Course, type Seen, type Ways } from './course';
import { lostSince } from './standing';

const image = { file: 'k-7.4.12b.img', bytes: 1000, hash: 'aa' };
const imageBefore = { file: 'k-7.4.9.img', bytes: 900, hash: 'bb' };
const wanted = {
  ...{ from: '7.4.9', to: '7.4.12b', image, imageBefore },
  ...{ start: 'now' as const, window: null, rollsBack: false },
};
const switchWays: Ways = { startsByItself: false, hasNext: true };
const controllerWays: Ways = { startsByItself: true, hasNext: false };
const minute = 60_000;

/** What may go wrong with a device. */
interface Ills {
  losesCopy: number;
  wrongHash: number;
  losesRestart: number;
  startsOld: boolean;
  neverBack: boolean;
  losesNeighbour: boolean;
}
const well: Ills = {
  ...{ losesCopy: 0, wrongHash: 0, losesRestart: 0 },
  startsOld: false,
  neverBack: false,
  losesNeighbour: false,
};

/** A device as it is there: it takes what is sent, and minds no one’s records. */
class Device {
  running = '7.4.9';
  starts = 0;
  restartsTaken = 0;
  copiesTaken = 0;
  images = new Map([['k-7.4.9.img', { release: '7.4.9', hash: 'bb' }]]);
  next = 'k-7.4.9.img';
  transfer: { file: string; doneAt: number; startsItself: boolean } | null = null;
  backAt: number | null = null;

  constructor(
    readonly ills: Ills,
    readonly ways: Ways,
  ) {}

  copy(now: number): void {
    if (this.ills.losesCopy-- > 0) return;
    this.copiesTaken++;
    this.transfer = { file: image.file, doneAt: now + 4 * minute, startsItself: this.ways.startsByItself };
  }

  restart(now: number): void {
    if (this.backAt !== null || this.ills.losesRestart-- > 0) return;
    this.restartsTaken++;
    this.starts++;
    this.backAt = now + 3 * minute;
    if (!this.ills.startsOld) this.running = this.images.get(this.next)?.release ?? this.running;
  }

  seen(now: number): Seen | null {
    const { transfer } = this;
    if (transfer && now >= transfer.doneAt && !this.images.has(image.file)) {
      this.images.set(image.file, { release: '7.4.12b', hash: this.ills.wrongHash-- > 0 ? 'cc' : 'aa' });
      if (transfer.startsItself) {
        this.next = image.file;
        this.restart(now);
      }
    }
    if (this.backAt !== null) {
      if (this.ills.neverBack || now < this.backAt) return null;
      this.backAt = null;
    }
    return {
      running: this.running,
      startedAs: String(this.starts),
      images: [...this.images].map(([file, { release, hash }]) => ({
        file,
        release: hash === 'cc' ? '' : release,
        hash,
      })),
      next: this.ways.hasNext ? this.next : null,
      freeBytes: 5000,
      transfer: transfer && {
        file: transfer.file,
        state: now < transfer.doneAt ? 'running' : 'done',
        percent: null,
        words: '',
      },
    };
  }
}

/** Whoever does it: he may die before he sends, or between sending and anything else; what was written down stays. @param deaths at which turns, and whether before or after sending */
function perform(device: Device, course: Course, deaths: ReadonlyMap<number, 'before' | 'after'> = new Map()): Course {
  let kept = course;
  for (let [turn, now] = [0, 0]; turn < 1000; turn++, now += 20_000) {
    const seen = device.seen(now);
    const next = nextTurn(kept, seen, device.ways, now);
    kept = structuredClone(next.course);
    if (next.act === 'end') return kept;
    const death = deaths.get(turn);
    if (death === 'before') continue;
    if (next.act === 'copy') {
      // what has another hash is copied over
      if (device.images.get(image.file)?.hash === 'cc') device.images.delete(image.file);
      device.copy(now);
    } else if (next.act === 'set next') device.next = kept.isOnTheWayBack ? imageBefore.file : image.file;
    else if (next.act === 'restart') device.restart(now);
    else if (next.act === 'compare' && seen) {
      if (death === 'after') continue;
      const lost =
        device.ills.losesNeighbour && device.running === '7.4.12b' ? ['sgh-core-1 is not heard any more'] : [];
      kept = structuredClone(afterComparing(kept, lost, seen, now).course);
    }
  }
  throw new Error('it never ends');
}

test('a switch is copied to, told what to start with, restarted, and compared', () => {
  const device = new Device({ ...well }, switchWays);
  expect(perform(device, newCourse(wanted))).toMatchObject({ ending: 'done', to: '7.4.12b' });
  expect([device.running, device.restartsTaken, device.copiesTaken]).toEqual(['7.4.12b', 1, 1]);
});

test('a controller that starts by itself is told once', () => {
  const device = new Device({ ...well }, controllerWays);
  expect(perform(device, newCourse(wanted)).ending).toBe('done');
  expect([device.running, device.copiesTaken]).toEqual(['7.4.12b', 1]);
});

test('whoever does it may die at any step, before sending or after: each device goes once, or stays', () => {
  const turns = fc.array(fc.tuple(fc.nat(60), fc.constantFrom('before' as const, 'after' as const)), { maxLength: 12 });
  const ills = fc.record({
    losesCopy: fc.nat(1),
    wrongHash: fc.nat(2),
    losesRestart: fc.nat(1),
    startsOld: fc.boolean(),
    neverBack: fc.boolean(),
    losesNeighbour: fc.boolean(),
  });
  fc.assert(
    fc.property(turns, ills, fc.boolean(), fc.boolean(), (deaths, ill, isSwitch, rollsBack) => {
      const device = new Device({ ...ill }, isSwitch ? switchWays : controllerWays);
      const course = perform(device, newCourse({ ...wanted, rollsBack: rollsBack && isSwitch }), new Map(deaths));
      const back = rollsBack && isSwitch && ill.losesNeighbour ? 1 : 0;
      expect(device.restartsTaken).toBeLessThanOrEqual(1 + back);
      // what is told is what is so
      const { ending } = course;
      if (ending === 'done' || ending === 'kept') expect(device.running).toBe('7.4.12b');
      if (ending === 'untouched') expect([device.running, device.restartsTaken]).toEqual(['7.4.9', 0]);
      if (ending === 'rolled back') expect(device.running).toBe('7.4.9');
      if (ending === 'failed' && back === 0) expect(device.running).toBe('7.4.9');
    }),
    { numRuns: 2000 },
  );
});

test('what cannot be is told before anything is sent', () => {
  const seen = new Device({ ...well }, switchWays).seen(0) as Seen;
  const told = (more: Partial<Seen>) => nextTurn(newCourse(wanted), { ...seen, ...more }, switchWays, 0).course;
  expect(told({ running: '7.4.12b' })).toMatchObject({
    ending: 'done',
    reason: 'it ran 7.4.12b already, and nothing was sent',
  });
  expect(told({ running: '7.2.30' }).reason).toBe('it runs 7.2.30, and not 7.4.9 any more');
  expect(told({ freeBytes: 999 }).reason).toBe('k-7.4.12b.img has 1,000 bytes, and 999 are free');
});

test('one that does not answer is left alone, and one that does not come back is lost', () => {
  let course = newCourse(wanted);
  for (const now of [0, minute, 4 * minute]) course = nextTurn(course, null, switchWays, now).course;
  expect(course).toMatchObject({ ending: 'untouched', reason: 'it does not answer' });
  const device = new Device({ ...well, neverBack: true }, switchWays);
  expect(perform(device, newCourse(wanted))).toMatchObject({ ending: 'lost' });
});

test('in a window it is restarted within it, and at its next restart by nobody', () => {
  const window = { from: 60 * minute, until: 90 * minute };
  const device = new Device({ ...well }, switchWays);
  let [course, restarted] = [newCourse({ ...wanted, start: 'window', window }), -1];
  for (let now = 0; now < 80 * minute && course.phase !== 'ended'; now += 30_000) {
    const seen = device.seen(now);
    const { act, course: next } = nextTurn(course, seen, switchWays, now);
    course = next;
    if (act === 'copy') device.copy(now);
    if (act === 'set next') device.next = image.file;
    if (act === 'restart') [restarted] = [now, device.restart(now)];
    if (act === 'compare' && seen) ({ course } = afterComparing(course, [], seen, now));
  }
  expect([course.ending, restarted]).toEqual(['done', 60.5 * minute]);

  const late = new Device({ ...well }, switchWays);
  late.images.set(image.file, { release: '7.4.12b', hash: 'aa' });
  const over = nextTurn(
    { ...newCourse({ ...wanted, start: 'window', window }), phase: 'copied' },
    late.seen(0),
    switchWays,
    91 * minute,
  );
  expect(over.course).toMatchObject({ ending: 'untouched', reason: 'its window is over, and it was not restarted' });

  const quiet = new Device({ ...well }, switchWays);
  let waiting = newCourse({ ...wanted, start: 'restart' });
  for (let now = 0; now < 60 * minute; now += 30_000) {
    const { act, course: next } = nextTurn(waiting, quiet.seen(now), switchWays, now);
    waiting = next;
    expect(act).not.toBe('restart');
    if (act === 'copy') quiet.copy(now);
    if (act === 'set next') quiet.next = image.file;
  }
  expect([waiting.phase, quiet.next]).toEqual(['copied', image.file]);
  quiet.restart(61 * minute);
  const after = nextTurn(waiting, quiet.seen(70 * minute), switchWays, 70 * minute);
  expect([after.act, after.course.phase]).toEqual(['compare', 'comparing']);
});

test('where something is not as it was it goes back, if that was chosen, once all had time to come back', () => {
  const device = new Device({ ...well, losesNeighbour: true }, switchWays);
  expect(perform(device, newCourse({ ...wanted, rollsBack: true }))).toMatchObject({
    ending: 'rolled back',
    reason: 'sgh-core-1 is not heard any more',
  });
  expect([device.running, device.restartsTaken]).toEqual(['7.4.9', 2]);
  const kept = new Device({ ...well, losesNeighbour: true }, switchWays);
  expect(perform(kept, newCourse(wanted)).ending).toBe('kept');
  const early = afterComparing(
    { ...newCourse(wanted), phase: 'comparing', comparedSince: 0 },
    ['x'],
    device.seen(0) as Seen,
    usualPatience.settle - 1,
  );
  expect(early.act).toBe('wait');
});

test('what is not there any more is told, what is new is not, and a few machines that sleep are none', () => {
  const before = {
    portsUp: ['e1/1', 'e1/2'],
    neighbours: ['sgh-core-1 on e1/49'],
    endpoints: ['a', 'b', 'c', 'd', 'e'].map((one) => `${one} on e1/3`),
    peers: ['10.72.0.1'],
  };
  expect(
    lostSince(before, { ...before, portsUp: [...before.portsUp, 'e1/9'], endpoints: before.endpoints.slice(1) }),
  ).toEqual([]);
  expect(lostSince(before, { portsUp: ['e1/1'], neighbours: [], endpoints: ['a on e1/3'], peers: [] })).toEqual([
    'port e1/2 is not up any more',
    'sgh-core-1 on e1/49 is not heard any more',
    'the peer 10.72.0.1 is gone',
    ...['b', 'c', 'd', 'e'].map((one) => `${one} on e1/3 is not learned any more`),
  ]);
});
