import {
  collectorProtocol,
  workQuestionSchema,
  type WorkAnswer,
  type WorkQuestion,
  type WorkShare,
} from '../../core/collectors/protocol';
import { invalid, Problem } from '../access/problem';
import { route } from '../access/route';
import {
  hintsFor,
  keepOnly,
  leaseShare,
  noteHeard,
  pinnedFor,
  surveysOfShares,
  surveysOver,
} from '../../store/collectors';
import type { Store } from '../../store/database';
import { programVersion, readSignatures } from '../../store/programFiles';
import { writeLetter } from '../../store/sealedLetter';
import { listScopes, openCredentials, readSiteRules } from '../../store/settings';

/** A collector says how it fares and what it has in hand; it is told what is over, and gets a share to ask if it wants one. */
export const POST = route('collector', workQuestionSchema, ({ store, person, body }): WorkAnswer => {
  const { db } = store;
  const { protocol, version, load, inHand, wants } = body;
  const fault = otherProtocol(protocol, version);
  noteHeard(db, person.name, { version, load, fault }, new Date());
  if (fault) throw new Problem(409, 'Other version', fault);
  keepOnly(db, person.name, inHand);
  return {
    over: surveysOver(db, surveysOfShares(db, inHand)),
    share: wants ? nextShare(store, person.name, body) : null,
  };
});

/** Why two sides do not understand each other; empty where they do. */
export function otherProtocol(protocol: number, version: string): string {
  if (protocol === collectorProtocol) return '';
  return `The collector is version ${version} (protocol ${protocol}), this server ${programVersion()} (protocol ${collectorProtocol}): install version ${programVersion()} at the collector. What it has in its spool is kept until then.`;
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
    siteRules: readSiteRules(db),
    hints: hintsFor(db, addresses),
    pinned: pinnedFor(db, addresses),
    credentials,
  };
}
