import {
  afterComparing,
  nextTurn,
  startFile,
  usualPatience,
  type Act,
  type Course,
  type Patience,
  type Seen,
} from '../../core/firmware/doing/course';
import { lostSince, type Standing } from '../../core/firmware/doing/standing';
import { ResourceError } from '../https/resourceSource';
import { SourceError } from '../source';
import type { SentRequest, UpdateWay } from './updateWay';

/** A device that let us in. */
export interface OpenedForUpdate {
  way: UpdateWay;
  standing(): Promise<Standing>;
  close(): Promise<void>;
}

/** What outlives whoever does it: all of it is written before the next thing happens. */
export interface CourseRecord {
  course(): Course;
  keep(course: Course): void;
  before(): Standing | null;
  keepBefore(standing: Standing): void;
  keepAfter(standing: Standing, lost: string[]): void;
  /** @returns by what its answer is told */
  sending(request: SentRequest): number;
  answered(request: number, words: string): void;
}

export interface TurnAround {
  open: () => Promise<OpenedForUpdate>;
  /** how the device is known to be updated, where it cannot be asked */
  ways: UpdateWay['ways'];
  /** where the device fetches its image */
  imageUrl: string;
  now: () => number;
  patience?: Patience;
}

/** What a device, or the way to it, is the cause of: nothing of ours failed. */
const isOfTheDevice = (error: unknown): error is Error =>
  error instanceof SourceError || error instanceof ResourceError;

/** One look at a device in the middle of its course, and what follows from that: at most one request that changes anything. */
export async function takeTurn(record: CourseRecord, around: TurnAround): Promise<Act> {
  const { now, patience = usualPatience } = around;
  let device: OpenedForUpdate | null = null;
  try {
    let seen: Seen | null = null;
    let trouble = '';
    try {
      device = await around.open();
      seen = await device.way.seen();
    } catch (error) {
      if (!isOfTheDevice(error)) throw error;
      trouble = error.message;
    }
    const ways = device?.way.ways ?? around.ways;
    const { course, act } = nextTurn(record.course(), seen, ways, now(), patience, trouble);
    // what it was is known before it is written down that it is
    if (act !== 'look before') record.keep(course);
    if (!device || !seen) return act;
    try {
      await perform({ record, device, seen, course, act }, around, patience);
    } catch (error) {
      if (act !== 'look before' || !isOfTheDevice(error)) throw error;
      // what it was cannot be told: it is as if it did not answer
      record.keep(nextTurn(record.course(), null, ways, now(), patience, error.message).course);
    }
    return act;
  } finally {
    await device?.close();
  }
}

interface Performed {
  record: CourseRecord;
  device: OpenedForUpdate;
  seen: Seen;
  course: Course;
  act: Act;
}

async function perform(
  { record, device, seen, course, act }: Performed,
  { imageUrl, now }: TurnAround,
  patience: Patience,
): Promise<void> {
  const { way } = device;
  const { image, start, window } = course;
  switch (act) {
    case 'copy':
      return send(record, way, way.copy({ ...image, url: imageUrl, start, window }));
    case 'set next':
      return send(record, way, way.setNext(startFile(course, seen)));
    case 'restart':
      return send(record, way, way.restart());
    case 'look before': {
      const standing = await device.standing();
      record.keepBefore(standing);
      record.keep(course);
      return;
    }
    case 'compare': {
      const after = await quietly(() => device.standing());
      if (!after) return;
      const before = record.before();
      const lost = before ? lostSince(before, after) : [];
      record.keepAfter(after, lost);
      record.keep(afterComparing(course, lost, seen, now(), patience).course);
    }
  }
}

/** It is written down before it goes out; whether it came to anything the next look tells. */
async function send(record: CourseRecord, way: UpdateWay, request: SentRequest | null): Promise<void> {
  if (!request) return;
  const number = record.sending(request);
  try {
    record.answered(number, (await way.send(request)) || 'taken');
  } catch (error) {
    if (!isOfTheDevice(error)) throw error;
    record.answered(number, error.message);
  }
}

async function quietly<Told>(ask: () => Promise<Told>): Promise<Told | null> {
  try {
    return await ask();
  } catch (error) {
    if (!isOfTheDevice(error)) throw error;
    return null;
  }
}
