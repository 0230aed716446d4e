import type { PortCounters } from '../switching/portErrors';
import { compareAddresses } from '../values/ipAddress';
import { toldKinds, type ToldList, type ToldRow } from './factKinds';
import type { WayIn, DeviceReport, WayKind } from './facts';

/** What one way in to a device last told. */
export interface InterfaceReport {
  kind: WayKind;
  report: DeviceReport;
}

/** The order in which the ways in are believed about what runs on a device; for what it is made of, Redfish comes first. */
const systemOrder: WayKind[] = ['snmp', 'restconf', 'wireless', 'fabric', 'hypervisors', 'redfish'];

/**
 * One report from several ways in to the same device: the system's name, release, services and ports as the system tells them; the hardware's serial,
 * modules and memory as its management controller does. Ports that both name are told apart by their MAC; faults and software add up.
 */
export function mergeInterfaces(given: InterfaceReport[]): DeviceReport {
  const ordered = [...given].sort((x, y) => systemOrder.indexOf(x.kind) - systemOrder.indexOf(y.kind));
  const [first] = ordered;
  if (!first) throw new Error('nothing to merge');
  const hardware = ordered.find(({ kind }) => kind === 'redfish') ?? first;
  const reports = ordered.map(({ report }) => report);
  const system = first.report.device;
  const metal = hardware.report.device;
  const device = {
    ...system,
    vendor: metal.vendor || system.vendor,
    model: metal.model || system.model,
    serial: metal.serial || system.serial,
    bootRelease: metal.bootRelease || system.bootRelease,
    memoryBytes: metal.memoryBytes ?? system.memoryBytes,
    role: system.role === 'unknown' || system.role === 'host' ? metal.role : system.role,
    location: system.location || metal.location,
    units: metal.units.length > 0 ? metal.units : system.units,
    processors: metal.processors.length > 0 ? metal.processors : system.processors,
    addresses: [...new Set(reports.flatMap((report) => report.device.addresses))].sort(compareAddresses),
    ...(metal.uuid && { uuid: metal.uuid }),
    interfaces: ordered.map(({ kind, report }) => interfaceOf(kind, report)),
  };
  return {
    device,
    volatile: {
      ...first.report.volatile,
      sensors: reports.flatMap(({ volatile }) => volatile.sensors ?? []),
      ...(reports.some(({ volatile }) => volatile.portLosses) && {
        portLosses: Object.assign({}, ...reports.map(({ volatile }) => volatile.portLosses)) as Record<
          string,
          PortCounters
        >,
      }),
      ...(reports.some(({ volatile }) => volatile.portsCountedSince) && {
        portsCountedSince: Object.assign({}, ...reports.map(({ volatile }) => volatile.portsCountedSince)) as Record<
          string,
          number
        >,
      }),
      ...(reports.some(({ volatile }) => volatile.readings) && {
        readings: reports.flatMap(({ volatile }) => volatile.readings ?? []),
      }),
      ...(reports.some(({ volatile }) => volatile.wlanClients) && {
        wlanClients: Object.assign({}, ...reports.map(({ volatile }) => volatile.wlanClients)) as Record<
          string,
          number
        >,
      }),
    },
    ...joinedLists(reports),
    modules: hardware.report.modules.length > 0 ? hardware.report.modules : first.report.modules,
    ports: union(
      reports.map(({ ports }) => ports),
      ({ mac, name }) => mac ?? name,
      ({ name }) => name,
    ),
    portAges: Object.assign({}, ...[...reports].reverse().map(({ portAges }) => portAges)) as Record<string, number>,
    sightings: {
      forwarding: reports.flatMap(({ sightings }) => sightings.forwarding),
      addresses: reports.flatMap(({ sightings }) => sightings.addresses),
    },
  };
}

/** The lists of several reports, put together: those of which every report tells the same once, others one behind the other. */
function joinedLists(reports: DeviceReport[]): Pick<DeviceReport, ToldList> {
  const lists = toldKinds.flatMap(({ list, key, isUnited, isOptional }) => {
    const told = reports.map((report): ToldRow<ToldList>[] | undefined => report[list]);
    if (isOptional && told.every((rows) => rows === undefined)) return [];
    const given = told.map((rows) => rows ?? []);
    return [[list, isUnited ? union(given, (row) => key(row, [])) : given.flat()]];
  });
  return Object.fromEntries(lists) as Pick<DeviceReport, ToldList>;
}

function interfaceOf(kind: WayKind, { device }: DeviceReport): WayIn {
  return (
    device.interfaces?.find((own) => own.kind === kind) ?? {
      kind,
      address: device.address,
      credential: device.credential,
      release: '',
    }
  );
}

/** Rows of several lists, the earlier list first, each once by every one of its keys. */
function union<Row>(lists: Row[][], ...keys: ((row: Row) => string)[]): Row[] {
  const seen = keys.map(() => new Set<string>());
  const rows: Row[] = [];
  for (const list of lists) {
    // within one list nothing is left out: bridges and bundles share MACs with their members
    const fresh = list.filter((row) => !keys.some((key, at) => seen[at]?.has(key(row))));
    rows.push(...fresh);
    for (const row of list) keys.forEach((key, at) => seen[at]?.add(key(row)));
  }
  return rows;
}
