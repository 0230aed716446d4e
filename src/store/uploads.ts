import { randomUUID } from 'node:crypto';
import { createWriteStream, mkdirSync } from 'node:fs';
import { copyFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import yauzl, { type Entry, type ZipFile } from 'yauzl';

export const uploadFolder = (dataFolder: string) => path.join(dataFolder, 'uploads');

/** Bounds of what an archive may unpack to. */
export const uploadBounds = { files: 20_000, fileBytes: 256 * 1024 * 1024, allBytes: 2 * 1024 * 1024 * 1024 };

/** Keeps a file that was sent until a job has read it. @returns its name among the uploads */
export async function keepUpload(dataFolder: string, file: string): Promise<string> {
  const name = randomUUID();
  mkdirSync(uploadFolder(dataFolder), { recursive: true, mode: 0o700 });
  await copyFile(file, path.join(uploadFolder(dataFolder), name));
  return name;
}

/** Why an archive was not taken. */
export class UploadError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'UploadError';
  }
}

/**
 * Unpacks a zip archive into a folder of its own below the data folder. Names that lead elsewhere, and archives that unpack to more than the
 * bounds, are refused and leave nothing behind. A single folder that wraps everything is looked through.
 * @param archive the file
 * @returns the name of the new folder
 * @throws UploadError
 */
export async function unpackUpload(dataFolder: string, archive: string, bounds = uploadBounds): Promise<string> {
  const name = randomUUID();
  const target = path.join(uploadFolder(dataFolder), name);
  mkdirSync(target, { recursive: true, mode: 0o700 });
  let opened: ZipFile | null = null;
  try {
    const wrapper = await wrapperOf(archive);
    const zip = (opened = await openZip(archive));
    let files = 0;
    let bytes = 0;
    for await (const entry of entriesOf(zip)) {
      const inner = entry.fileName.slice(wrapper.length);
      if (inner === '' || inner.endsWith('/') || /(^|\/)(\.|__MACOSX)/.test(inner)) continue;
      const place = path.join(target, inner);
      if (!place.startsWith(target + path.sep)) throw new UploadError(`“${entry.fileName}” leads out of the archive`);
      if (++files > bounds.files) throw new UploadError(`holds more than ${bounds.files} files`);
      mkdirSync(path.dirname(place), { recursive: true });
      let own = 0;
      const counter = new Transform({
        transform(part: Buffer, _encoding, done) {
          own += part.length;
          bytes += part.length;
          // what the archive says of its sizes is not believed
          if (own > bounds.fileBytes)
            done(
              new UploadError(
                `“${entry.fileName}” unpacks to more than ${Math.round(bounds.fileBytes / 1024 / 1024)} MB`,
              ),
            );
          else if (bytes > bounds.allBytes)
            done(new UploadError(`unpacks to more than ${Math.round(bounds.allBytes / 1024 / 1024)} MB`));
          else done(null, part);
        },
      });
      await pipeline(await contentOf(zip, entry), counter, createWriteStream(place));
    }
    if (files === 0) throw new UploadError('holds no file');
    return name;
  } catch (error) {
    opened?.close();
    // a file may be about to be opened there still
    await rm(target, { recursive: true, force: true, maxRetries: 10, retryDelay: 20 });
    if (error instanceof UploadError) throw error;
    throw new UploadError(`cannot be unpacked: ${(error as Error).message}`);
  }
}

function openZip(archive: string): Promise<ZipFile> {
  return new Promise((resolve, reject) => {
    yauzl.open(archive, { lazyEntries: true }, (error, zip) =>
      error ? reject(new UploadError(`is no zip archive: ${error.message}`)) : resolve(zip),
    );
  });
}

async function* entriesOf(zip: ZipFile): AsyncGenerator<Entry> {
  const waiting: ((entry: Entry | null) => void)[] = [];
  let fault: Error | null = null;
  zip.on('entry', (entry: Entry) => waiting.shift()?.(entry));
  zip.on('end', () => waiting.shift()?.(null));
  zip.on('error', (error: Error) => {
    fault = error;
    waiting.shift()?.(null);
  });
  for (;;) {
    const next = new Promise<Entry | null>((resolve) => waiting.push(resolve));
    zip.readEntry();
    const entry = await next;
    if (fault) throw fault;
    if (!entry) return;
    yield entry;
  }
}

function contentOf(zip: ZipFile, entry: Entry): Promise<NodeJS.ReadableStream> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) => (error ? reject(error) : resolve(stream))),
  );
}

/** The folder that holds everything, if there is just one and it is named by no address. */
async function wrapperOf(archive: string): Promise<string> {
  const tops = new Set<string>();
  for await (const { fileName } of entriesOf(await openZip(archive)))
    if (!/^(\.|__MACOSX)/.test(fileName))
      tops.add(fileName.includes('/') ? fileName.slice(0, fileName.indexOf('/') + 1) : fileName);
  const [only = ''] = tops;
  return tops.size === 1 && only.endsWith('/') && !/^[\d.]+\/$|:/.test(only) ? only : '';
}
