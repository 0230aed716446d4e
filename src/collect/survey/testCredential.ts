import { approves, notApproved } from '../../core/estate/approval';
import type { Credential, LoginCredential } from '../../core/estate/credential';
import { isLogin } from '../../core/estate/credentialKind';
import { partWords, type HarvestPart } from '../../core/estate/harvest';
import type { Scope } from '../../core/estate/scope';
import type { Outcome } from '../../core/estate/visit';
import { translate } from '../../core/values/translation';
import type { CertificateMemory } from '../https/certificates';
import { findInterface } from '../interfaces/findInterface';
import { questions } from '../agent/questions';
import { UdpTransport } from '../snmp/udpTransport';
import { SourceError } from '../source';
import { heardOut, outcomeOf, outcomeOfBoth, unheardOverHttps } from './outcome';
import { SnmpProbe } from './snmpProbe';

/** What came of trying one credential at one address. */
export interface CredentialTest extends Outcome {
  /** what answered calls itself */
  name: string;
  description: string;
  /** parts it has anything to tell of */
  tells: string[];
  milliseconds: number;
}

/** Tries one credential once, as a survey would, and says what it opens. */
export async function testCredential(
  credential: Credential,
  address: string,
  scope: Scope,
  certificates: CertificateMemory,
): Promise<CredentialTest> {
  const started = performance.now();
  const done = (outcome: Outcome, more: Partial<CredentialTest> = {}): CredentialTest => ({
    name: '',
    description: '',
    tells: [],
    ...outcome,
    ...more,
    milliseconds: Math.round(performance.now() - started),
  });
  const isService = isLogin(credential.kind);
  const place = isService
    ? translate(address, scope.translations, scope.httpsPort, 'httpsPort')
    : translate(address, scope.translations, scope.port);
  if (!approves(credential, place)) return done(notApproved([credential], place));
  if (credential.kind === 'redfish' || credential.kind === 'restconf' || credential.kind === 'controller')
    return testLogin(credential, address, scope, certificates, done);
  const transport = new UdpTransport();
  try {
    const probed = await new SnmpProbe(transport, scope, [credential], () => false).probe(address, undefined);
    if (!('source' in probed)) {
      const outcome = outcomeOf(probed);
      return done(outcome.outcome === 'silent' ? await heardOut(outcome, transport, place, scope.timeoutMs) : outcome);
    }
    const { name, description } = probed.system;
    return done(
      { outcome: 'answered', reason: '', remedy: '' },
      { name, description, tells: await partsPresent(probed.source) },
    );
  } finally {
    transport.close();
  }
}

/** Which parts of a harvest have any table at this agent. */
async function partsPresent(source: { present(entries: string[]): Promise<Set<string>> }): Promise<string[]> {
  const list = Object.entries(questions) as [HarvestPart, { tables: { entry: string }[] }][];
  try {
    const present = await source.present(list.flatMap(([, { tables }]) => tables.map(({ entry }) => entry)));
    return list
      .filter(([, { tables }]) => tables.some(({ entry }) => present.has(entry)))
      .map(([part]) => partWords[part]);
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    return [];
  }
}

async function testLogin(
  credential: LoginCredential,
  address: string,
  scope: Scope,
  certificates: CertificateMemory,
  done: (outcome: Outcome, more?: Partial<CredentialTest>) => CredentialTest,
): Promise<CredentialTest> {
  const place = translate(address, scope.translations, scope.httpsPort, 'httpsPort');
  const { found, faults } = await findInterface(
    { ...place, name: address },
    {
      timeoutMs: scope.timeoutMs * 5,
      connectMs: scope.timeoutMs,
      concurrency: 2,
      certificates,
      cancelled: () => false,
      ...(scope.authorities && { authorities: scope.authorities }),
    },
    [credential],
    [],
  );
  if (!found) return done(outcomeOfBoth(unheardOverHttps, faults));
  await found.opened.close();
  return done(
    { outcome: 'answered', reason: '', remedy: '' },
    { name: found.name, description: `${found.name} lets “${credential.name}” in` },
  );
}
