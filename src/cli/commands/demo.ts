import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Option, type Command } from 'commander';
import { runSurvey } from '../../collect/survey/runSurvey';
import type { Credential, UserCredential } from '../../core/estate/credential';
import { readScope, scopeDefaults, type ScopeText } from '../../core/estate/scope';
import { parseTranslation, translate } from '../../core/values/translation';
import { FlowExporter } from '../../sim/flows/exporter';
import { ostermere, storyLength } from '../../sim/ostermere/estate';
import { exportersOf } from '../../sim/ostermere/exporters';
import { sampleTickets } from '../../sim/ostermere/tickets';
import { TicketStand } from '../../sim/tickets/ticketStand';
import { sampleHardwareUser } from '../../sim/ostermere/controllers';
import { sampleCommunity, sampleUser, sampleWriter } from '../../sim/ostermere/fleet';
import { sampleControllerUser, sampleNetworkUser } from '../../sim/ostermere/services';
import { makerList } from '../../sim/ostermere/makers';
import type { AgentUser } from '../../sim/snmp/usm';
import { MailStand } from '../../sim/mail/mailStand';
import { latestSealed } from '../../store/base/sealedSurveys';
import { openStore, type Store } from '../../store/base/database';
import { saveImageSource, usualImagePort } from '../../store/imageSource';
import { saveMailServer } from '../../store/mailServer';
import { addPerson, countPeople } from '../../store/people';
import { readSignatures, seedCatalogue } from '../../store/programFiles';
import { openCredentials, saveCredential } from '../../store/credentials';
import { saveMakers } from '../../store/makers';
import { saveScope } from '../../store/scopes';
import { addToken, listTokens, revokeToken } from '../../store/tokens';
import { wholeNumber } from '../exit';
import { writeDemoContracts } from '../demoContracts';
import { writeDemoFloor } from '../demoFloor';
import { demoPace, doDemoUpgrade, writeDemoFirmware } from '../demoFirmware';
import { writeDemoSites } from '../demoSites';
import { writeDemoNotes } from '../demoNotes';
import { writeDemoTalk } from '../demoTalk';
import { FleetProcess } from '../fleetProcess';
import { defaultPort, serve, untilStopped } from './serve';

const demoPerson = { name: 'duty engineer', password: 'ostermere-lights' };
/** Where the demo's mail is taken. */
const demoMail = {
  host: '127.72.255.25',
  port: 1525,
  security: 'none',
  user: '',
  from: 'bolide@ostermere.example',
} as const;
const simBase = '127.72.0.0';
const simPort = 1161;
const simHttpsPort = 1443;
/** where the sample's exporters of flows send to */
const flowsPort = 12_055;

const demoScope: ScopeText = {
  ...scopeDefaults,
  name: 'Ostermere',
  ranges: [
    '10.72.0.0/27',
    '10.72.1.0/26',
    '10.72.2.0/28',
    '10.72.3.0/27',
    '10.72.4.0/27',
    '10.72.5.0/27',
    '10.72.6.0/27',
    '10.72.7.0/27',
    '10.72.8.0/27',
    '10.72.9.0/27',
    '10.72.10.0/27',
    '10.72.11.0/27',
    '10.72.12.0/27',
    '10.72.13.0/27',
    '10.72.17.0/27',
    '10.72.17.61-62',
    '10.72.17.81-82',
    '10.72.32.1-79',
    '10.72.33.1-79',
    '10.72.48.1-79',
  ],
  exclusions: ['10.72.1.60-62'],
  translations: [`10.72.0.0/16 via ${simBase}/16 port ${simPort} https ${simHttpsPort}`],
  credentials: [
    'Ostermere v3',
    'Ostermere read-only',
    'Ostermere hardware',
    'Ostermere network',
    'Ostermere controllers',
  ],
  writeCredentials: ['Ostermere hands', 'Ostermere redfish hands', 'Ostermere restconf hands'],
  defaultCommunities: true,
  timeoutMs: 300,
};

export function addDemoCommand(program: Command): void {
  program
    .command('demo')
    .description('the sample estate as live agents, its history, and the application')
    .option('--port <n>', 'port of the application', wholeNumber('--port', 1, 65_535), defaultPort)
    .option('--data <dir>', 'data folder', 'demo-data')
    .option('--fresh', 'begin anew')
    .addOption(new Option('--history-only', 'make the history and end').hideHelp())
    .action(async (options: { port: number; data: string; fresh?: boolean; historyOnly?: boolean }) => {
      if (options.fresh) rmSync(options.data, { recursive: true, force: true });
      mkdirSync(options.data, { recursive: true, mode: 0o700 });
      const fleet = new FleetProcess(
        simBase,
        simPort,
        simHttpsPort,
        path.join(options.data, 'stand-in-certificates.json'),
      );
      try {
        await tellStory(options.data, fleet);
        if (options.historyOnly) return fleet.close();
        await fleet.moveTo(storyLength);
      } catch (error) {
        fleet.close();
        throw error;
      }
      // nobody waits for minutes where equipment restarts in seconds
      process.env.BOLIDE_UPGRADE_PACE = String(demoPace);
      const mail = await takeMail(options.data);
      const flows = { address: '127.0.0.1', port: flowsPort };
      const serving = await serve({ ...options, host: '127.0.0.1', flows, flowsEvery: 20 });
      const exporters = await startExporters(flows);
      const tickets = startTickets(options.data, serving.address);
      console.log(
        `\nBolide is at ${serving.address}\nsign in as “${demoPerson.name}” with the password “${demoPerson.password}”\n${fleet.size} simulated agents answer on ${simBase}/16 port ${simPort}, ${fleet.services} services on port ${simHttpsPort}.${mail ? ` Mail goes to ${path.join(options.data, 'mail')}.` : ''} ${exporters.length} of them export flows. Ctrl+C stops everything.\nWho talks to whom, and what an outage would cost: ${serving.address}/dependencies`,
      );
      await untilStopped(serving, () => {
        fleet.close();
        for (const exporter of exporters) exporter.stop();
        tickets.close();
        void mail?.close();
      });
    });
}

/** The last survey is in the morning: ten in the evening before. */
const nightBeforeMs = 8 * 3_600_000;

const ticketToken = 'Ostermere tickets';

/** A stand-in for the operator's tickets, which tells them over HTTP with a token of its own. */
function startTickets(data: string, address: string): TicketStand {
  const store = openStore(data);
  try {
    for (const { id, name } of listTokens(store.db)) if (name === ticketToken) revokeToken(store.db, id);
    const token = addToken(store.db, { name: ticketToken, role: 'operator', areas: ['dependencies'] });
    const stand = new TicketStand(address, token, ticketToken);
    for (const ticket of sampleTickets(Date.now())) stand.write(ticket);
    return stand;
  } finally {
    store.close();
  }
}

const exportSeconds = 20;

/** The sample's exporters of flows, each from the address at which its agent answers. */
async function startExporters(to: { address: string; port: number }): Promise<FlowExporter[]> {
  const rules = demoScope.translations.map(parseTranslation);
  const exporters = exportersOf(ostermere(storyLength)).map(
    ({ address, version, talk }) => new FlowExporter(translate(address, rules, 0).address, version, talk),
  );
  for (const exporter of exporters) await exporter.start(to, exportSeconds);
  return exporters;
}

/** A stand-in that takes the demo's mail and lays each message into a folder; null where its port is taken. */
async function takeMail(data: string): Promise<MailStand | null> {
  const folder = path.join(data, 'mail');
  mkdirSync(folder, { recursive: true });
  let count = 0;
  const stand = new MailStand({}, ({ text }) =>
    writeFileSync(path.join(folder, `${new Date().toISOString().replaceAll(':', '-')}-${++count}.eml`), text),
  );
  return stand.listen(demoMail.port, demoMail.host).then(
    () => stand,
    () => null,
  );
}

/** Makes the eight weekly surveys by really surveying the agents, each as it was in its week. Goes on where a broken-off run ended. */
async function tellStory(data: string, fleet: FleetProcess): Promise<void> {
  const store = openStore(data);
  try {
    await prepare(store);
    const done = latestSealed(store.db);
    const today = storyEnd(new Date());
    for (let step = done + 1; step <= storyLength; step++) {
      await fleet.moveTo(step);
      if (step === storyLength) await doDemoUpgrade(store, demoPerson.name, new Date(today.getTime() - nightBeforeMs));
      const at = new Date(today.getTime() - (storyLength - step) * 7 * 86_400_000);
      const read = readScope(demoScope);
      if ('mistakes' in read) throw new Error(read.mistakes.map(({ message }) => message).join('; '));
      const summary = await runSurvey(store, {
        // one process answers for all of them
        scope: { ...read.scope, concurrency: 24 },
        scopeName: demoScope.name,
        atOnce: 4096,
        credentials: openCredentials(store, demoScope.credentials),
        signatures: readSignatures(data),
        clock: () => at,
        readHere: true,
      });
      console.error(
        `survey ${summary.survey} of ${storyLength}: ${summary.devices.found} devices in ${summary.seconds} s`,
      );
    }
    writeDemoNotes(store, demoPerson.name);
    writeDemoFloor(store, demoPerson.name);
    writeDemoContracts(store, demoPerson.name, today.toISOString().slice(0, 10));
    await writeDemoTalk(store, demoPerson.name, today);
  } finally {
    store.close();
  }
}

const userCredential = (
  name: string,
  { name: user, authProtocol, authPassword, privProtocol, privPassword }: AgentUser,
): UserCredential => ({
  name,
  kind: 'snmp3',
  user,
  auth: { protocol: authProtocol, password: authPassword },
  priv: { protocol: privProtocol, password: privPassword },
});

async function prepare(store: Store): Promise<void> {
  const { db } = store;
  if (countPeople(db) > 0) return;
  seedCatalogue(store);
  saveMakers(db, makerList);
  writeDemoSites(db, demoPerson.name);
  // the sample answers on this machine alone
  const approved = { prefixes: [`${simBase}/16`], ports: [simPort, simHttpsPort] };
  const keep = (credential: Credential) => saveCredential(store, { ...credential, approved });
  keep(userCredential('Ostermere v3', sampleUser));
  keep({ name: 'Ostermere read-only', kind: 'snmp2c', community: sampleCommunity });
  keep({ name: 'Ostermere hardware', kind: 'redfish', ...sampleHardwareUser });
  keep({ name: 'Ostermere network', kind: 'restconf', ...sampleNetworkUser });
  keep({ name: 'Ostermere controllers', kind: 'controller', ...sampleControllerUser });
  keep({ ...userCredential('Ostermere hands', sampleWriter), purpose: 'write' });
  for (const kind of ['redfish', 'restconf'] as const)
    keep({
      name: `Ostermere ${kind} hands`,
      kind,
      ...(kind === 'redfish' ? sampleHardwareUser : sampleNetworkUser),
      purpose: 'write',
    });
  saveImageSource(db, { reachedAs: '127.0.0.1', listenOn: '127.0.0.1', port: usualImagePort, needsApproval: false });
  saveMailServer(store, demoMail, '');
  saveScope(db, demoScope);
  writeDemoFirmware(store, demoPerson.name, new Date().toISOString());
  await addPerson(db, demoPerson.name, demoPerson.password, 'administrator');
}

/** The newest 06:00 that has passed. */
function storyEnd(now: Date): Date {
  const end = new Date(now);
  end.setHours(6, 0, 0, 0);
  if (end > now) end.setDate(end.getDate() - 1);
  return end;
}
