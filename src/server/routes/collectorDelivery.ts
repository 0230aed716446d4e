import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import { readDelivery } from '../../core/collectors/protocol';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import { storeDelivery } from '../../store/collectors';
import { otherProtocol } from './collectorWork';

const unpack = promisify(gunzip);
const largestPacked = 128 * 1024 * 1024;
const largestUnpacked = 512 * 1024 * 1024;

/** Keeps what a collector delivers until the survey takes it. Gzipped JSON. */
export const POST = route('collector', null, async ({ store, person, request }) => {
  if (Number(request.headers.get('content-length') ?? 0) > largestPacked) throw tooLarge();
  const body = Buffer.from(await request.arrayBuffer());
  if (body.length > largestPacked) throw tooLarge();
  const value = await parsed(body);
  const fault = otherProtocol(Number((value as { protocol?: unknown } | null)?.protocol), 'unknown');
  if (fault) throw new Problem(409, 'Other version', fault);
  const read = readDelivery(value);
  if (!('delivery' in read)) throw invalid([read], `The delivery is not understood: ${read.path} ${read.message}`);
  const { id, survey, share, last, visits } = read.delivery;
  const state = storeDelivery(
    store.db,
    person.name,
    { id, survey, share, last, addresses: visits.map(({ address }) => address), body },
    new Date(),
  );
  if (state === 'unasked')
    throw new Problem(422, 'Not asked for', `Survey ${survey} has no share ${share} with these addresses.`);
  return { state };
});

const tooLarge = () =>
  new Problem(
    413,
    'Too large',
    `A delivery may have ${largestPacked / 1024 / 1024} MB packed and ${largestUnpacked / 1024 / 1024} MB unpacked.`,
  );

async function parsed(body: Buffer): Promise<unknown> {
  let text: string;
  try {
    text = (await unpack(body, { maxOutputLength: largestUnpacked })).toString('utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') throw tooLarge();
    throw new Problem(400, 'Not gzip', 'The body must be gzipped JSON.');
  }
  try {
    return JSON.parse(text);
  } catch {
    throw new Problem(400, 'Not JSON', 'The body must be gzipped JSON.');
  }
}
