import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import * as yup from 'yup';
import { invalid, Problem } from '../access/problem';

const sizeWords = (octets: number) => (octets >= 1024 * 1024 ? `${octets / 1024 / 1024} MB` : `${octets / 1024} kB`);
const tooLarge = (largest: number) =>
  new Problem(413, 'Too large', `The body of this request may have ${sizeWords(largest)}.`);

/** Whoever sent it went away: that is no failure of ours. */
const brokenOff = (): never => {
  throw new Problem(400, 'Broken off', 'The request ended before all of its body had arrived.');
};

/** A body in parts, as they arrive: one that is too large is refused as soon as that is known, and never held in memory. */
async function* partsOf(request: Request, largest: number): AsyncGenerator<Uint8Array> {
  if (Number(request.headers.get('content-length') ?? 0) > largest) throw tooLarge(largest);
  if (!request.body) return;
  const reader = request.body.getReader();
  let size = 0;
  try {
    for (;;) {
      const { value, done } = await reader.read().catch(brokenOff);
      if (done) return;
      size += value.byteLength;
      if (size > largest) throw tooLarge(largest);
      yield value;
    }
  } finally {
    // nothing more of it is wanted; where it came to its end this says nothing
    await reader.cancel().catch(() => undefined);
  }
}

/** The octets of a body. @throws Problem where they are more than may be */
export async function readOctets(request: Request, largest: number): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  for await (const part of partsOf(request, largest)) parts.push(part);
  return Buffer.concat(parts);
}

/** A JSON body, held against its schema. @throws Problem with each mistake at its field */
export async function readJson<Body>(
  request: Request,
  schema: Pick<yup.Schema<Body> | yup.Lazy<Body>, 'validate'>,
  largest: number,
): Promise<Body> {
  const octets = await readOctets(request, largest);
  let value: unknown;
  try {
    value = JSON.parse(octets.toString('utf8') || '{}');
  } catch {
    throw new Problem(400, 'Not JSON', 'The request body must be JSON.');
  }
  try {
    return (await schema.validate(value, { abortEarly: false, strict: true })) as Body;
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const list = error.inner.length > 0 ? error.inner : [error];
    throw invalid(list.flatMap(mistakesOf));
  }
}

/** Writes a body to a file, gives it to the work, and removes it. @throws Problem where it is too large */
export async function withBodyAsFile<Answer>(
  request: Request,
  largest: number,
  work: (file: string) => Promise<Answer>,
): Promise<Answer> {
  const folder = await mkdtemp(path.join(tmpdir(), 'bolide-body-'));
  try {
    const file = path.join(folder, 'body');
    await pipeline(partsOf(request, largest), createWriteStream(file, { mode: 0o600 }));
    return await work(file);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** A validation mistake at its place: a field that is not known is named itself. */
function mistakesOf({ type, path: at, message, params }: yup.ValidationError): { path: string; message: string }[] {
  const unknown = type === 'noUnknown' ? String((params as { unknown?: unknown } | undefined)?.unknown ?? '') : '';
  if (unknown === '') return [{ path: at ?? '', message }];
  return unknown
    .split(', ')
    .map((name) => ({ path: [at, name].filter(Boolean).join('.'), message: `There is no field “${name}” here` }));
}
