import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import path from 'node:path';
import { CaptureError, CaptureReader } from '../../core/flow/captureReader';
import { isKnownLinkType, PacketFields, readPacket } from '../../core/flow/packet';
import type { IsListener, Talk } from '../../core/flow/talk';
import { TalkCounter } from '../../core/flow/talkCounter';
import type { TakenCapture } from '../../store/talk/captures';

const pieceSize = 1024 * 1024;
/** A time beyond it is no time: a clock that was never set, or octets that are none. */
const [earliest, latestAhead] = [Date.UTC(1990, 0, 1) / 1000, 86_400];

/** A capture as it was read: what it told, and how far it could be read. */
export interface ReadCapture {
  taken: TakenCapture;
  talks: Talk[];
  /** packets of a time that cannot be, or of none: they count for nothing */
  timeless: number;
  /** link types of interfaces that nobody here can read, with their packets */
  unknownLinks: Map<number, number>;
}

/**
 * Reads a capture from a file, a piece at a time. One that is cut off or damaged within counts as far as it could be read, and says where it ended.
 * @param point where it was captured; the name of the file where nobody says
 * @throws CaptureError where it is no capture at all; the error of the system where it cannot be opened
 */
export async function readCapture(
  file: string,
  {
    isListener,
    now,
    name = path.basename(file),
    point = name,
    signal,
  }: { isListener?: IsListener; now: Date; name?: string; point?: string; signal?: AbortSignal },
): Promise<ReadCapture> {
  const counter = new TalkCounter(isListener);
  const fields = new PacketFields();
  const unknownLinks = new Map<number, number>();
  const latest = now.getTime() / 1000 + latestAhead;
  let [packets, passedOver, timeless] = [0, 0, 0];
  let [firstSeen, lastSeen] = [Infinity, -Infinity];
  const reader = new CaptureReader(({ octets, start, end, at, linkType }) => {
    packets++;
    if (!isKnownLinkType(linkType)) {
      unknownLinks.set(linkType, (unknownLinks.get(linkType) ?? 0) + 1);
      passedOver++;
    } else if (!readPacket(octets, start, end, linkType, fields)) passedOver++;
    else if (!(at >= earliest && at <= latest)) timeless++;
    else {
      firstSeen = Math.min(firstSeen, at);
      lastSeen = Math.max(lastSeen, at);
      counter.add(octets, fields, at);
    }
  });
  const digest = createHash('sha256');
  let brokenOff = '';
  for await (const piece of createReadStream(file, { highWaterMark: pieceSize, ...(signal && { signal }) })) {
    digest.update(piece as Buffer);
    if (brokenOff) continue;
    brokenOff = reasonOf(() => reader.push(piece as Buffer), packets);
  }
  brokenOff ||= reasonOf(() => reader.end(), packets);
  const isTimed = lastSeen >= firstSeen;
  return {
    taken: {
      point,
      file: name,
      digest: digest.digest('hex'),
      packets,
      passedOver,
      firstSeen: isTimed ? firstSeen : null,
      lastSeen: isTimed ? lastSeen : null,
      brokenOff,
    },
    talks: counter.end(),
    timeless,
    unknownLinks,
  };
}

/** What of a capture was left out, and why it ended where it did, a line each. */
export function notesOfCapture({ taken, timeless, unknownLinks }: ReadCapture): string[] {
  const links = [...unknownLinks].map(([type, count]) => `${count} of link type ${type}, which is not known`);
  return [
    ...(taken.brokenOff ? [taken.brokenOff] : []),
    ...(taken.passedOver > 0
      ? [`${taken.passedOver} packets were no IP${links.length > 0 ? ` (${links.join(', ')})` : ''}`]
      : []),
    ...(timeless > 0 ? [`${timeless} packets of a time that cannot be were left out`] : []),
  ];
}

/** What is damaged behind packets that were read costs the rest; what held none is no capture. */
function reasonOf(work: () => void, packetsBefore: number): string {
  try {
    work();
    return '';
  } catch (error) {
    if (!(error instanceof CaptureError) || (packetsBefore === 0 && error.offset === 0)) throw error;
    return error.message;
  }
}
