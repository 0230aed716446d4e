import { createWriteStream, existsSync } from 'node:fs';
import { once } from 'node:events';
import path from 'node:path';
import { readCapture } from '../collect/captures/takeCapture';
import type { Application } from '../core/applications/application';
import type { ServiceRule } from '../core/services/serviceRule';
import { pcapHead, pcapRecord } from '../sim/capture/pcapFile';
import { ostermere } from '../sim/ostermere/estate';
import { sampleTalk, talkTruth } from '../sim/ostermere/talk';
import { readApplications } from '../store/applications';
import type { Store } from '../store/base/database';
import { latestSealed } from '../store/base/sealedSurveys';
import { applicationEdits } from '../store/edits/applications';
import { writeEdit } from '../store/edits/log';
import { serviceRuleEdits } from '../store/edits/serviceRules';
import { listenersAt } from '../store/listeners';
import { ownServiceRules } from '../store/serviceRules';
import { keepCapture } from '../store/talk/captures';

const point = 'mirror port of sgh-core-1';

/** What the operator’s own programs are. What nobody ordered has no rule. */
const rules: ServiceRule[] = [
  ['tally', 'Tally database', 'database', 'data', 'tallydb', 'Tally'],
  ['fareweb', 'Fare pages', 'web', 'ticketing', 'fareweb', 'Ostermere'],
  ['pis-bus', 'Passenger information bus', 'message bus', 'passenger information', 'busd', 'Ostermere'],
  ['pis-feed', 'Passenger information feed', 'application', 'passenger information', 'feedgen', 'Ostermere'],
  ['tram-tracking', 'Tram tracking', 'application', 'operations', 'tramtrack', 'Ostermere'],
  ['recording', 'Camera recording', 'video', 'surveillance', 'recorder', 'Ostermere'],
  ['archive', 'Camera archive', 'video', 'surveillance', 'archiver', 'Ostermere'],
  ['call-control', 'Call control', 'voice', 'voice', 'callctl', 'Ostermere'],
  ['depot-pages', 'Depot pages', 'web', 'depot maintenance', 'depotweb', 'Ostermere'],
  ['depot-data', 'Depot database', 'database', 'depot maintenance', 'depotdb', 'Ostermere'],
  ['pis-gate', 'Display gate', 'application', 'passenger information', 'pisgate', 'Ostermere'],
  ['track-map', 'Map of trams', 'web', 'operations', 'trackmap', 'Ostermere'],
  ['planning-board', 'Planning board', 'web', 'depot maintenance', 'planboard', 'Ostermere'],
  ['voice-box', 'Voice messages', 'voice', 'voice', 'voicebox', 'Ostermere'],
  ['vault', 'Backup vault', 'backup', 'backup', 'vaultstore', 'Ostermere'],
].map(([id = '', name = '', kind = '', category = '', process = '', publisher = '']) => ({
  id,
  order: 20,
  name,
  kind: kind as ServiceRule['kind'],
  publisher,
  category,
  match: { process },
}));

const application = (
  name: string,
  owner: string,
  criticality: Application['criticality'],
  contacts: string[],
  services: string[],
  shared: string[] = [],
): Application => ({
  name,
  owner,
  criticality,
  contacts,
  note: '',
  rules: [
    ...services.map((service) => ({
      member: { kind: 'service' as const, service, deviceId: null },
      verdict: 'in' as const,
    })),
    ...shared.map((service) => ({
      member: { kind: 'service' as const, service, deviceId: null },
      verdict: 'shared' as const,
    })),
  ],
  needed: [],
});

const ticketing = application(
  'Ticketing',
  'revenue office',
  'vital',
  ['ticketing on call, ext. 2210'],
  ['fareweb', 'tallydb'],
);
const { server: gateway, port } = talkTruth.monthly;

const applications: Application[] = [
  {
    ...ticketing,
    rules: [
      ...ticketing.rules,
      // the payment gateway tells nothing of itself: only talk knows it
      { member: { kind: 'service', service: `tcp/${port}`, deviceId: null, address: gateway }, verdict: 'in' },
    ],
  },
  application(
    'Passenger Information',
    'traffic control',
    'high',
    ['control room, ext. 2100'],
    ['feedgen', 'busd', 'pisgate'],
  ),
  application(
    'Tram Tracking',
    'traffic control',
    'vital',
    ['control room, ext. 2100'],
    ['tramtrack', 'trackmap'],
    ['tallydb'],
  ),
  application('CCTV recording', 'security', 'moderate', ['security desk, ext. 2300'], ['recorder', 'archiver']),
  application('Voice', 'telecoms', 'high', ['telecoms on call, ext. 2400'], ['callctl', 'voicebox'], ['dirserv']),
  application(
    'Depot Maintenance',
    'workshops',
    'moderate',
    ['workshop office, ext. 2600'],
    ['depotweb', 'depotdb', 'planboard'],
  ),
];

/** What the operator’s people wrote of services and applications, and sixty days of talk from a capture at a mirror port. */
export async function writeDemoTalk(store: Store, who: string, end: Date): Promise<void> {
  const { db, folder } = store;
  if (ownServiceRules(db).length === 0)
    for (const rule of rules)
      writeEdit(db, serviceRuleEdits, {
        who,
        act: 'wrote a service rule',
        words: rule.name,
        changes: [{ key: null, before: null, after: rule }],
      });
  if (readApplications(db).length === 0)
    for (const one of applications)
      writeEdit(db, applicationEdits, {
        who,
        act: 'began an application',
        words: one.name,
        changes: [{ key: null, before: null, after: one }],
      });
  const file = path.join(folder, 'mirror-sgh-core-1.pcap');
  if (existsSync(file)) return;
  const out = createWriteStream(file, { mode: 0o600 });
  out.write(pcapHead());
  for (const packet of sampleTalk(ostermere(8), end.getTime()))
    if (!out.write(pcapRecord(packet))) await once(out, 'drain');
  out.end();
  await once(out, 'finish');
  const read = await readCapture(file, { isListener: listenersAt(db, latestSealed(db)), now: end, point });
  keepCapture(db, read.taken, read.talks, end);
}
