import { bridgeTables } from '../../core/mib/bridge';
import { tableRows, Answers } from '../../core/mib/table';
import { numberOf } from '../../core/mib/varbind';
import { octetsOfMac } from '../../core/values/mac';
import { SourceError, type VarbindSource } from '../source';

export interface WantedMac {
  mac: string;
  /** the VLAN in which others hear it; null where they keep one table for all */
  vlan: number | null;
}

export interface HeardMac extends WantedMac {
  ifIndex: number;
}

/** dot1qTpFdbStatus and dot1dTpFdbStatus: an address of the bridge itself (RFC 4188 and 4363). */
const self = 4;
const portColumn = 2;
const statusColumn = 3;

/**
 * Asks a bridge on which port it hears certain machines: its forwarding table by name of the row instead of from end to end, a few datagrams for dozens of machines.
 * By VLAN (Q-BRIDGE-MIB, RFC 4363), else in its one table or that of a VLAN's context (BRIDGE-MIB, RFC 4188).
 * @param contextOf the context of a VLAN where the bridge keeps a table in each
 * @throws SourceError
 */
export async function lookUpMacs(
  source: VarbindSource,
  wanted: readonly WantedMac[],
  contextOf: ((vlan: number) => string) | null,
): Promise<HeardMac[]> {
  if (contextOf) return inContexts(source, wanted, contextOf);
  const databases = await databaseOfVlans(source);
  const rows = wanted.flatMap((row) => {
    const octets = octetsOfMac(row.mac)?.join('.');
    if (octets === undefined) return [];
    const database = row.vlan === null ? undefined : (databases.get(row.vlan) ?? row.vlan);
    return [
      {
        ...row,
        entries: [
          ...(database === undefined ? [] : [{ entry: bridgeTables.dot1qTpFdbEntry, index: `${database}.${octets}` }]),
          { entry: bridgeTables.dot1dTpFdbEntry, index: octets },
        ],
      },
    ];
  });
  return withInterfaces(source, await ported(source, rows));
}

type Asked = WantedMac & { entries: { entry: string; index: string }[] };

/** Of each machine the bridge port of the first row that there is. */
async function ported(source: VarbindSource, rows: readonly Asked[]): Promise<(WantedMac & { bridgePort: number })[]> {
  const names = rows.flatMap(({ entries }) =>
    entries.flatMap(({ entry, index }) => [`${entry}.${portColumn}.${index}`, `${entry}.${statusColumn}.${index}`]),
  );
  const values = new Map((await source.get(names)).map((varbind) => [varbind.oid, numberOf(varbind.value)]));
  return rows.flatMap(({ mac, vlan, entries }) => {
    for (const { entry, index } of entries) {
      const bridgePort = values.get(`${entry}.${portColumn}.${index}`);
      if (bridgePort && values.get(`${entry}.${statusColumn}.${index}`) !== self) return [{ mac, vlan, bridgePort }];
    }
    return [];
  });
}

async function withInterfaces(
  source: VarbindSource,
  rows: readonly (WantedMac & { bridgePort: number })[],
): Promise<HeardMac[]> {
  const names = [...new Set(rows.map(({ bridgePort }) => bridgePort))].map(
    (port) => `${bridgeTables.dot1dBasePortEntry}.2.${port}`,
  );
  if (names.length === 0) return [];
  const interfaces = new Map((await source.get(names)).map((varbind) => [varbind.oid, numberOf(varbind.value)]));
  return rows.flatMap(({ mac, vlan, bridgePort }) => {
    const ifIndex = interfaces.get(`${bridgeTables.dot1dBasePortEntry}.2.${bridgePort}`);
    return ifIndex ? [{ mac, vlan, ifIndex }] : [];
  });
}

async function inContexts(
  source: VarbindSource,
  wanted: readonly WantedMac[],
  contextOf: (vlan: number) => string,
): Promise<HeardMac[]> {
  const found: HeardMac[] = [];
  for (const vlan of new Set(wanted.map((row) => row.vlan))) {
    const inside = vlan === null ? null : source.inContext(contextOf(vlan));
    if (!inside) continue;
    const rows = wanted
      .filter((row) => row.vlan === vlan)
      .flatMap((row) => {
        const index = octetsOfMac(row.mac)?.join('.');
        return index === undefined ? [] : [{ ...row, entries: [{ entry: bridgeTables.dot1dTpFdbEntry, index }] }];
      });
    found.push(...(await withInterfaces(inside, await ported(inside, rows))));
  }
  return found;
}

/** VLAN → filtering database; empty where the bridge does not tell, so that databases are numbered like VLANs. */
async function databaseOfVlans(source: VarbindSource): Promise<Map<number, number>> {
  const answers = new Answers();
  try {
    answers.addRows(bridgeTables.dot1qVlanCurrentEntry, await source.columns(bridgeTables.dot1qVlanCurrentEntry, [3]));
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    answers.addRows(bridgeTables.dot1qVlanCurrentEntry, error.partial);
  }
  return new Map(
    tableRows(bridgeTables.dot1qVlanCurrentEntry, answers).flatMap(({ index, cells }) => {
      const database = numberOf(cells.get(3));
      return index[1] === undefined || database === undefined ? [] : [[index[1], database] as const];
    }),
  );
}
