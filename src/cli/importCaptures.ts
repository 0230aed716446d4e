import { notesOfCapture, readCapture } from '../collect/captures/takeCapture';
import { CaptureError } from '../core/flow/captureReader';
import { openStore } from '../store/base/database';
import { latestSealed } from '../store/base/sealedSurveys';
import { listenersAt } from '../store/listeners';
import { isTakenIn, keepCapture } from '../store/talk/captures';
import { CommandError } from './exit';

/** What became of one file, as `--json` tells it. */
interface FileTold {
  file: string;
  state: 'taken in' | 'taken in before' | 'refused';
  packets: number;
  conversations: number;
  firstSeen: string | null;
  lastSeen: string | null;
  /** what was left out, and why it ended where it did */
  notes: string[];
}

/** Takes captures in, one after the other. A file that is none is told, and the others are taken all the same. */
export async function importCaptures(
  files: readonly string[],
  { data, json = false, point }: { data: string; json?: boolean; point?: string | undefined },
): Promise<void> {
  const store = openStore(data);
  const told: FileTold[] = [];
  try {
    const isListener = listenersAt(store.db, latestSealed(store.db));
    for (const file of files) {
      const one = await takeIn(file);
      told.push(one);
      if (!json) console.error(lineOf(one));
    }
    async function takeIn(file: string): Promise<FileTold> {
      try {
        const now = new Date();
        const read = await readCapture(file, { isListener, now, ...(point !== undefined && { point }) });
        const { taken, talks } = read;
        const isKnown = isTakenIn(store.db, taken.digest) || keepCapture(store.db, taken, talks, now) === null;
        const moment = (seconds: number | null) => (seconds === null ? null : new Date(seconds * 1000).toISOString());
        return {
          file,
          state: isKnown ? 'taken in before' : 'taken in',
          packets: taken.packets,
          conversations: talks.length,
          firstSeen: moment(taken.firstSeen),
          lastSeen: moment(taken.lastSeen),
          notes: notesOfCapture(read),
        };
      } catch (error) {
        const reason = error instanceof CaptureError ? error.message : wordsOfFile(error);
        if (reason === null) throw error;
        return {
          file,
          state: 'refused',
          packets: 0,
          conversations: 0,
          firstSeen: null,
          lastSeen: null,
          notes: [reason],
        };
      }
    }
  } finally {
    store.close();
  }
  if (json) process.stdout.write(`${JSON.stringify({ files: told })}\n`);
  const refused = told.filter(({ state }) => state === 'refused');
  if (refused.length > 0)
    throw new CommandError(
      json
        ? refused.map(({ file, notes }) => `${file}: ${notes.join('; ')}`).join('\n')
        : `${refused.length} of ${told.length} refused`,
    );
}

/** Why a file could not be read; null where it is not about the file. */
function wordsOfFile(error: unknown): string | null {
  const { code } = error as NodeJS.ErrnoException;
  if (code === 'ENOENT') return 'there is no such file';
  if (code === 'EISDIR') return 'this is a folder: name the files in it';
  return code ? `cannot be read (${code})` : null;
}

const counted = (count: number, word: string): string =>
  `${count.toLocaleString('en')} ${word}${count === 1 ? '' : 's'}`;

const lineOf = ({ file, state, packets, conversations, notes }: FileTold): string =>
  state === 'refused'
    ? `${file}: refused: ${notes.join('; ')}`
    : `${file}: ${counted(packets, 'packet')}, ${counted(conversations, 'conversation')}, ${state}${notes.length > 0 ? ` (${notes.join('; ')})` : ''}`;
