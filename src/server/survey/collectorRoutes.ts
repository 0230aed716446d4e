import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import * as yup from 'yup';
import { line } from '../../core/values/line';
import {
  collectorProtocol,
  oldestProtocol,
  readDelivery,
  workQuestionSchema,
  type WorkAnswer,
  type WorkQuestion,
  type WorkShare,
} from '../../core/collectors/protocol';
import { nameMistake } from '../../core/values/password';
import {
  hintsFor,
  keepOnly,
  leaseShare,
  listCollectors,
  noteHeard,
  pinnedFor,
  removeCollector,
  storeDelivery,
  surveysOfShares,
  surveysOver,
} from '../../store/collectors';
import type { Store } from '../../store/base/database';
import { addToken } from '../../store/tokens';
import { recordAct } from '../../store/audit';
import { programVersion, readSignatures } from '../../store/programFiles';
import { writeLetter } from '../../store/sealedLetter';
import { listScopes } from '../../store/scopes';
import { openCredentials } from '../../store/credentials';
import { invalid, notFound, Problem } from '../access/problem';
import { megabytes, octets, route } from '../api/route';

const unpack = promisify(gunzip);
const largestPacked = megabytes(128);
const largestUnpacked = megabytes(512);
const addSchema = yup.object({ name: line('The name').required('Give the collector a name').max(60) }).noUnknown();

/** Collectors at other sites: who they are, what they are given to ask, what they deliver. */
export const collectorRoutes = [
  route({
    method: 'GET',
    path: '/collectors',
    role: 'viewer',
    summary: 'Collectors: when each was last heard, its version and load',
    run: ({ store }) => {
      const rows = listCollectors(store.db);
      return { rows, total: rows.length, version: programVersion(), now: new Date().toISOString() };
    },
  }),
  route({
    method: 'POST',
    path: '/collectors',
    role: 'administrator',
    summary: 'Add a collector; its token is in this answer and nowhere else',
    body: addSchema,
    run: ({ store, person, body: { name } }) => {
      const mistake = nameMistake(name);
      if (mistake) throw invalid([{ path: 'name', message: mistake }]);
      try {
        const token = addToken(store.db, { name, role: 'collector' });
        recordAct(store.db, person.name, 'added a collector', name);
        return { name, token };
      } catch (error) {
        if (!/UNIQUE/.test((error as Error).message)) throw error;
        throw invalid([{ path: 'name', message: `There is a token “${name}” already` }]);
      }
    },
  }),
  route({
    method: 'DELETE',
    path: '/collectors/{id}',
    role: 'administrator',
    summary: 'Remove a collector: its token opens nothing any more',
    run: ({ store, person, params }) => {
      const name = removeCollector(store.db, Number(params.id));
      if (name === null) throw notFound(`collector ${params.id}`);
      recordAct(store.db, person.name, 'removed a collector', name);
      return { name };
    },
  }),
  route({
    method: 'POST',
    path: '/collectors/work',
    role: 'collector',
    summary: 'A collector says how it fares and what it has in hand, is told what is over, and gets a share to ask',
    body: workQuestionSchema,
    run: ({ store, person, body }): WorkAnswer => {
      const { db } = store;
      const { protocol, version, load, inHand, wants } = body;
      const fault = otherProtocol(protocol, version);
      noteHeard(db, person.name, { version, load, fault }, new Date());
      if (fault) throw new Problem(409, 'Other version', fault);
      keepOnly(db, person.name, inHand);
      const over = surveysOver(db, surveysOfShares(db, inHand));
      return { over, share: wants ? nextShare(store, person.name, body) : null };
    },
  }),
  route({
    method: 'POST',
    path: '/collectors/deliveries',
    role: 'collector',
    summary: 'A collector delivers visits as gzipped JSON, each delivery taken once by its id',
    body: octets('application/gzip'),
    largest: largestPacked,
    // megabytes are unpacked, checked and written
    beside: true,
    run: async ({ store, person, body }) => {
      const value = await parsed(body);
      const fault = otherProtocol(Number((value as { protocol?: unknown } | null)?.protocol), 'unknown');
      if (fault) throw new Problem(409, 'Other version', fault);
      const read = readDelivery(value);
      if (!('delivery' in read)) throw invalid([read], `The delivery is not understood: ${read.path} ${read.message}`);
      const { id, survey, share, last, visits } = read.delivery;
      const addresses = visits.map(({ address }) => address);
      const state = storeDelivery(store.db, person.name, { id, survey, share, last, addresses, body }, new Date());
      if (state === 'unasked')
        throw new Problem(422, 'Not asked for', `Survey ${survey} has no share ${share} with these addresses.`);
      return { state };
    },
  }),
];

/** Why two sides do not understand each other; empty where they do. */
function otherProtocol(protocol: number, version: string): string {
  if (protocol >= oldestProtocol && protocol <= collectorProtocol) return '';
  const own = programVersion();
  return `The collector is version ${version} (protocol ${protocol}), this server ${own} (protocol ${collectorProtocol}): install version ${own} at the collector. What it has in its spool is kept until then.`;
}

function nextShare(store: Store, name: string, { key }: WorkQuestion): WorkShare | null {
  const { db } = store;
  const leased = leaseShare(db, name);
  const scope = leased && listScopes(db).find(({ id }) => id === leased.scopeId)?.scope;
  if (!leased || !scope) return null;
  const { id, surveyId, kind, addresses } = leased.share;
  const secrets = kind === 'ask' ? openCredentials(store, scope.credentials) : [];
  let credentials: string;
  try {
    credentials = writeLetter(key, secrets);
  } catch {
    throw invalid([{ path: 'key', message: 'is no X25519 public key' }]);
  }
  return {
    share: id,
    survey: surveyId,
    kind,
    addresses,
    scope,
    signatures: readSignatures(store.folder),
    siteRules: [],
    hints: hintsFor(db, addresses),
    pinned: pinnedFor(db, addresses),
    credentials,
  };
}

async function parsed(body: Buffer): Promise<unknown> {
  let text: string;
  try {
    text = (await unpack(body, { maxOutputLength: largestUnpacked })).toString('utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') {
      throw new Problem(413, 'Too large', `A delivery may have ${largestUnpacked / 1024 / 1024} MB unpacked.`);
    }
    throw new Problem(400, 'Not gzip', 'The body must be gzipped JSON.');
  }
  try {
    return JSON.parse(text);
  } catch {
    throw new Problem(400, 'Not JSON', 'The body must be gzipped JSON.');
  }
}
