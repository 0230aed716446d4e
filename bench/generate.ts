import type { DeviceFacts, DeviceReport, PortFacts } from '../src/core/estate/facts';
import { harvestParts } from '../src/core/estate/harvest';
import { commitReport } from '../src/store/commitReport';
import { Identities } from '../src/store/identities';
import type { Store } from '../src/store/base/database';
import { survey, visit } from '../src/store/base/schema';

/** A generated access switch. @param version another number, another description of its first port @param ageSeconds how much longer its ports have been as they are */
export function switchReport(n: number, ports: number, version = 0, ageSeconds = 0): DeviceReport {
  const address = `10.${64 + (n >> 16)}.${(n >> 8) & 255}.${n & 255}`;
  const mac = (port: number) =>
    `02:4b:${[n >> 8, n, port >> 8, port].map((octet) => (octet & 255).toString(16).padStart(2, '0')).join(':')}`;
  const names = Array.from({ length: ports }, (_, at) => String(at + 1));
  return {
    device: {
      name: `s${n % 140}-sw-${n}`,
      site: `S${n % 140}`,
      role: n % 9 ? 'switch' : 'router',
      vendor: 'Kestrane',
      family: 'K-Access',
      model: n % 3 ? 'K-Access 48' : 'K-Access 24',
      serial: `KA-${100_000 + n}`,
      release: n % 2 ? '7.4.9' : '7.4.12b',
      bootRelease: '3.2',
      address,
      addresses: [address],
      objectId: '1.3.6.1.4.1.59101.1.48',
      description: '',
      contact: '',
      location: '',
      memoryBytes: 2 ** 29,
      flashBytes: 2 ** 28,
      credential: 'v3',
      signature: 'kestrane-access',
      units: [],
      bridgeAddress: null,
      engineId: null,
      processors: [],
    } satisfies DeviceFacts,
    volatile: { uptimeSeconds: n + ageSeconds, flashFreeBytes: 2 ** 27, storage: [] },
    modules: [],
    addresses: [],
    vlans: [],
    neighbours: [],
    services: [],
    software: [],
    machines: [],
    routes: [],
    peers: [],
    faults: [],
    wlans: [],
    sightings: { forwarding: [], addresses: [] },
    portAges: Object.fromEntries(names.map((name, at) => [name, 86_400 * 40 + at + ageSeconds])),
    ports: names.map(
      (name, at): PortFacts =>
        ({
          index: at + 1,
          name,
          alias: at === 0 ? `desk ${version}` : `desk ${at}`,
          description: `port ${name}`,
          type: 'ethernet',
          admin: 'up',
          oper: at % 3 ? 'up' : 'down',
          speedBps: 1e9,
          duplex: 'full',
          mtu: 1500,
          mac: mac(at),
          vlan: 10,
          taggedVlans: [],
          addresses: [],
          lag: null,
          stp: null,
          physical: true,
          poe: null,
          media: '',
          autoNegotiation: null,
        }) as unknown as PortFacts,
    ),
  };
}

/** Writes one sealed survey of generated devices through the store, as the engine would. */
export function generateEstate(store: Store, devices: number): void {
  const { db } = store;
  const at = new Date().toISOString();
  const { id } = db
    .insert(survey)
    .values({ scopeName: 'bench', scope: {}, state: 'running', startedAt: at, asked: devices })
    .returning({ id: survey.id })
    .get();
  const identities = new Identities(db, id);
  const parts = new Set(harvestParts);
  store.raw.transaction(() => {
    for (let n = 0; n < devices; n++) {
      const report = switchReport(n, 0);
      // every device is new: no need to search the identities already known
      const known = new Identities(db, 0);
      const { deviceId } = commitReport(
        db,
        id,
        n === 0 ? identities : known,
        { kind: 'snmp', report, covered: parts, asked: parts },
        () => false,
      );
      db.insert(visit)
        .values({
          surveyId: id,
          address: report.device.address,
          seq: n + 1,
          state: 'done',
          outcome: 'answered',
          deviceId,
          milliseconds: 300,
        })
        .run();
    }
    db.update(survey)
      .set({
        state: 'sealed',
        sealedAt: at,
        summary: {
          survey: id,
          seconds: 1,
          addresses: { asked: devices, answered: devices, silent: 0 },
          devices: { found: devices, new: devices, changed: 0, replaced: 0, silent: 0 },
          phases: {},
          failures: [],
          changes: 0,
        },
      })
      .run();
  })();
}
