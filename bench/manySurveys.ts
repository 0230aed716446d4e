import { harvestParts } from '../src/core/estate/harvest';
import type { PortKind } from '../src/core/estate/facts';
import { writeConclusion } from '../src/collect/survey/conclusion';
import type { AttachmentFacts } from '../src/core/switching/placement';
import { commitReport } from '../src/store/commitReport';
import { Identities } from '../src/store/identities';
import type { Store } from '../src/store/base/database';
import type { FactText } from '../src/store/base/facts';
import { survey } from '../src/store/base/schema';
import { forgetOrder, visitNotes } from '../src/store/base/visits';
import { writeVolatile } from '../src/store/base/volatileValues';
import { modulesOf, restOf, treeOf } from './equipment';
import { switchReport } from './generate';

export interface GeneratedSurvey {
  /** 1 for the first */
  number: number;
  devices: number;
  ports: number;
  isChanged: (n: number) => boolean;
  /** every device is committed, as a survey does; else those that changed, and for the others what is written of an unchanged one */
  wholly: boolean;
  /** machines on each device's ports, one a port and from the first again; one in a hundred moves each time */
  endpoints?: number;
  /** with modules, VLANs, addresses, listeners, packages and a tree of links, as real switches have them */
  whole?: boolean;
}

/** One of many surveys of generated switches, written through the store as the engine would, a week after the one before. */
export function writeSurvey(
  store: Store,
  { number, devices, ports, isChanged, wholly, endpoints = 0, whole = false }: GeneratedSurvey,
): void {
  const { db } = store;
  const at = new Date(Date.UTC(2026, 0, 5 + number * 7, 6)).toISOString();
  const { id } = db
    .insert(survey)
    .values({ scopeName: 'bench', scope: {}, state: 'running', startedAt: at, asked: devices })
    .returning({ id: survey.id })
    .get();
  const identities = new Identities(db, id);
  forgetOrder(db, id);
  const note = visitNotes(db, id);
  const parts = new Set(harvestParts);
  store.raw.transaction(() => {
    for (let n = 0; n < devices; n++) {
      const version = number > 1 && isChanged(n) ? number : 0;
      const plain = switchReport(n, ports, version, number * 7 * 86_400);
      const report = whole ? { ...plain, ...restOf(n), modules: modulesOf(n, version) } : plain;
      let deviceId = n + 1;
      if (wholly || isChanged(n))
        ({ deviceId } = commitReport(
          db,
          id,
          identities,
          { kind: 'snmp', report, covered: parts, asked: parts },
          () => false,
        ));
      else writeVolatile(db, id, deviceId, report.volatile);
      note(report.device.address, n + 1, {
        state: 'done',
        outcome: 'answered',
        deviceId,
        milliseconds: 300,
        credential: 'v3',
        phases: {
          probe: 0.004,
          collect: 0.211,
          interpret: 0.001,
          commit: 0.003,
          interfaces: 0.041,
          modules: 0.03,
          bridge: 0.08,
        },
        missing: [],
      });
    }
    if (endpoints > 0)
      writeConclusion(db, id, {
        links: whole ? treeOf(devices, (n) => switchReport(n, 0).device.name) : [],
        portKinds: kindsOf(devices, ports, endpoints),
        attachments: attachmentsOf(number, devices, ports, endpoints),
      });
    store.raw.prepare("update survey set state = 'sealed', sealed_at = ?, summary = ? where id = ?").run(
      at,
      JSON.stringify({
        survey: id,
        seconds: 1,
        addresses: { asked: devices, answered: devices, silent: 0 },
        devices: {},
        phases: {},
        failures: [],
      }),
      id,
    );
  })();
}

function kindsOf(devices: number, ports: number, endpoints: number): Map<number, Map<string, PortKind>> {
  const kinds = new Map(
    Array.from({ length: ports }, (_, at): [string, PortKind] => [String(at + 1), at < endpoints ? 'edge' : 'unused']),
  );
  return new Map(Array.from({ length: devices }, (_, n) => [n + 1, kinds]));
}

/** In the order of their MACs. */
function* attachmentsOf(number: number, devices: number, ports: number, endpoints: number): Generator<FactText> {
  const hex = (value: number, digits: number) => value.toString(16).padStart(digits, '0');
  for (let n = 0; n < devices; n++) {
    for (let at = 0; at < endpoints; at++) {
      const mac = `06:9a:${hex(n >> 8, 2)}:${hex(n & 255, 2)}:00:${hex(at, 2)}`;
      const moved = (n * endpoints + at) % 100 === number % 100 && number > 1 ? number : 0;
      const content: AttachmentFacts = {
        mac,
        vlan: 10 + (at % 4),
        deviceId: n + 1,
        port: String(((at + moved) % ports) + 1),
        via: at >= ports ? 'phone' : 'direct',
        addresses: [`10.${128 + (n >> 8)}.${n & 255}.${at + 1}`],
        ownDeviceId: null,
        evidence: [1],
      };
      yield { key: mac, text: JSON.stringify(content) };
    }
  }
}
