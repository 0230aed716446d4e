import type { FaultFacts, ModuleClass, ModuleFacts, SensorReading } from '../estate/facts';
import { cleanSerial } from '../mib/entity';
import { listAt, numberAt, objectAt, textAt, type Json } from './json';
import { collectionPath } from './redfishSystems';
import { plainPath } from './resourceTree';

/** One part of a machine as Redfish lists it: where it is, what it is, how it is. */
export interface RedfishPart {
  /** path of its resource, with the fragment where it is an entry of a list */
  resource: string;
  module: ModuleFacts;
  subsystem: string;
  /** Status.Health of the part itself, never the rollup */
  health: string;
  /** it says of itself that it will fail (Drive.FailurePredicted) */
  failsSoon: boolean;
  state: string;
}

interface Described {
  class: ModuleClass;
  subsystem: string;
  name: string;
  /** what holds it, shown as an empty slot where it is absent */
  replaceable: boolean;
  model?: string;
  description?: string;
  firmware?: string;
}

/** Chassis, processors, memory sockets, drives, adapters, supplies and fans (DSP0268), parents before children. Absent members are empty slots. */
export function redfishParts(resources: Map<string, Json>, rootName: string): RedfishPart[] {
  const parts: RedfishPart[] = [];
  const taken = new Set<string>();
  const add = (resource: string, item: Json, parent: string | null, what: Described): string => {
    let path = parent === null ? what.name : `${parent} / ${what.name}`;
    for (let count = 2; taken.has(path); count++)
      path = `${parent === null ? '' : `${parent} / `}${what.name} (${count})`;
    taken.add(path);
    const state = textAt(item, 'Status', 'State');
    const empty = state === 'Absent';
    parts.push({
      resource,
      subsystem: what.subsystem,
      health: textAt(item, 'Status', 'Health'),
      failsSoon: objectAt(item)?.FailurePredicted === true,
      state,
      module: {
        path,
        class: empty ? 'container' : what.class,
        name: what.name,
        description: what.description ?? textAt(item, 'Description'),
        vendor: textAt(item, 'Manufacturer'),
        model: what.model ?? (textAt(item, 'Model') || textAt(item, 'PartNumber')),
        serial: empty ? '' : cleanSerial(textAt(item, 'SerialNumber'), textAt(item, 'Manufacturer')),
        ...(textAt(item, 'AssetTag') && { assetId: textAt(item, 'AssetTag') }),
        hardwareRevision: textAt(item, 'Version'),
        firmwareRevision: what.firmware ?? (textAt(item, 'FirmwareVersion') || textAt(item, 'Revision')),
        softwareRevision: '',
        replaceable: what.replaceable,
        position: parts.length,
        parent,
        empty,
        order: parts.length,
      },
    });
    return path;
  };
  const named = (item: Json, fallback: string) =>
    textAt(item, 'Name') || textAt(item, 'Id') || textAt(item, 'MemberId') || fallback;
  const members = (collection: string) =>
    listAt(resources.get(plainPath(collection)), 'Members').flatMap((member) => {
      const link = plainPath(textAt(member, '@odata.id'));
      const item = resources.get(link);
      return item === undefined ? [] : [{ link, item }];
    });
  const linked = (item: Json, name: string) => members(textAt(item, name, '@odata.id'));

  const systems = members(collectionPath(resources, 'Systems'));
  const chassis = members(collectionPath(resources, 'Chassis'));
  const roots = new Map<string, string>();
  for (const { link, item, within } of chassisInOrder(chassis)) {
    const main = roots.size === 0;
    roots.set(
      link,
      add(link, item, main ? null : (roots.get(within) ?? roots.values().next().value ?? null), {
        class: 'chassis',
        subsystem: 'chassis',
        name: main ? rootName : named(item, 'Chassis'),
        replaceable: true,
        description: [textAt(item, 'ChassisType'), textAt(item, 'Description')].filter(Boolean).join(', '),
      }),
    );
  }
  for (const { link, item } of systems) {
    const own = listAt(item, 'Links', 'Chassis')
      .map((one) => roots.get(plainPath(textAt(one, '@odata.id'))))
      .find((path) => path !== undefined);
    const root =
      own ??
      roots.values().next().value ??
      add(link, item, null, { class: 'chassis', subsystem: 'chassis', name: rootName, replaceable: true });
    for (const { link: at, item: processor } of linked(item, 'Processors'))
      add(at, processor, root, {
        // accelerators stand in the same collection
        class: ['', 'CPU'].includes(textAt(processor, 'ProcessorType')) ? 'cpu' : 'module',
        subsystem: 'processor',
        name: textAt(processor, 'Socket') || named(processor, 'Processor'),
        replaceable: true,
        ...(textAt(processor, 'ProcessorType') && { description: textAt(processor, 'ProcessorType') }),
      });
    for (const { link: at, item: memory } of linked(item, 'Memory')) {
      const capacity = numberAt(memory, 'CapacityMiB');
      add(at, memory, root, {
        class: 'memory',
        subsystem: 'memory',
        name: textAt(memory, 'DeviceLocator') || named(memory, 'Memory'),
        replaceable: true,
        model: textAt(memory, 'PartNumber'),
        description: [capacity ? `${Math.round(capacity / 1024)} GB` : '', textAt(memory, 'MemoryDeviceType')]
          .filter(Boolean)
          .join(' '),
      });
    }
    for (const { link: at, item: storage } of linked(item, 'Storage')) {
      // the newer collection takes the place of the older list (Storage 1.9): both tell the same controllers
      const newer = linked(storage, 'Controllers');
      const controllers =
        newer.length > 0
          ? newer
          : listAt(storage, 'StorageControllers').map((one, place) => ({
              link: `${at}#/StorageControllers/${place}`,
              item: one,
            }));
      for (const { link: where, item: controller } of controllers)
        add(where, controller, root, {
          class: 'module',
          subsystem: 'storage',
          name: named(controller, 'Storage controller'),
          replaceable: true,
        });
      for (const { link: where, item: volume } of linked(storage, 'Volumes')) {
        const bytes = numberAt(volume, 'CapacityBytes');
        add(where, volume, root, {
          class: 'other',
          subsystem: 'storage',
          name: named(volume, 'Volume'),
          replaceable: false,
          description: ['volume', bytes ? `${Math.round(bytes / 1e9)} GB` : '', textAt(volume, 'RAIDType')]
            .filter(Boolean)
            .join(', '),
        });
      }
      for (const link2 of listAt(storage, 'Drives')) {
        const drivePath = plainPath(textAt(link2, '@odata.id'));
        const drive = resources.get(drivePath);
        if (drive === undefined) continue;
        const bytes = numberAt(drive, 'CapacityBytes');
        add(drivePath, drive, root, {
          class: 'drive',
          subsystem: 'storage',
          name: textAt(drive, 'PhysicalLocation', 'PartLocation', 'ServiceLabel') || named(drive, 'Drive'),
          replaceable: true,
          firmware: textAt(drive, 'Revision'),
          description: [
            bytes ? `${Math.round(bytes / 1e9)} GB` : '',
            textAt(drive, 'MediaType'),
            textAt(drive, 'Protocol'),
          ]
            .filter(Boolean)
            .join(' '),
        });
      }
    }
  }
  for (const { link, item } of chassis) {
    const root = roots.get(link) ?? null;
    for (const { link: at, item: adapter } of linked(item, 'NetworkAdapters')) {
      const firmware =
        listAt(adapter, 'Controllers')
          .map((controller) => textAt(controller, 'FirmwarePackageVersion'))
          .find(Boolean) ?? '';
      add(at, adapter, root, {
        class: 'module',
        subsystem: 'network',
        name: named(adapter, 'Network adapter'),
        replaceable: true,
        firmware,
      });
    }
    // cards that are told as adapters, controllers or accelerators already are not told again
    for (const { link: at, item: card } of linked(item, 'PCIeDevices')) {
      const serial = cleanSerial(textAt(card, 'SerialNumber'), textAt(card, 'Manufacturer'));
      if (serial !== '' && parts.some(({ module }) => module.serial === serial)) continue;
      if (serial === '' && parts.some(({ module }) => module.name === named(card, ''))) continue;
      add(at, card, root, {
        class: 'module',
        subsystem: 'modules',
        name: named(card, 'PCIe card'),
        replaceable: true,
        description: textAt(card, 'DeviceType'),
      });
    }
    // the newer subsystems where they are, else the older lists
    const powerSubsystem = resources.get(plainPath(textAt(item, 'PowerSubsystem', '@odata.id')));
    const supplies = powerSubsystem === undefined ? [] : linked(powerSubsystem, 'PowerSupplies');
    const oldPower = resources.get(plainPath(textAt(item, 'Power', '@odata.id')));
    const oldSupplies =
      supplies.length > 0
        ? []
        : listAt(oldPower, 'PowerSupplies').map((supply, at) => ({
            link:
              textAt(supply, '@odata.id') || `${plainPath(textAt(item, 'Power', '@odata.id'))}#/PowerSupplies/${at}`,
            item: supply,
          }));
    for (const { link: at, item: supply } of [...supplies, ...oldSupplies])
      add(at, supply, root, {
        class: 'powerSupply',
        subsystem: 'power',
        name: named(supply, 'Supply'),
        replaceable: true,
      });
    const thermalSubsystem = resources.get(plainPath(textAt(item, 'ThermalSubsystem', '@odata.id')));
    const fans = thermalSubsystem === undefined ? [] : linked(thermalSubsystem, 'Fans');
    const oldThermal = resources.get(plainPath(textAt(item, 'Thermal', '@odata.id')));
    const oldFans =
      fans.length > 0
        ? []
        : listAt(oldThermal, 'Fans').map((fan, at) => ({
            link: textAt(fan, '@odata.id') || `${plainPath(textAt(item, 'Thermal', '@odata.id'))}#/Fans/${at}`,
            item: fan,
          }));
    for (const { link: at, item: fan } of [...fans, ...oldFans])
      add(at, fan, root, {
        class: 'fan',
        subsystem: 'cooling',
        name: named(fan, 'Fan') || textAt(fan, 'FanName'),
        replaceable: true,
      });
  }
  return parts;
}

/** A chassis before those that it contains (Links.ContainedBy); the one that nothing contains first, in the order told. */
function chassisInOrder<Member extends { link: string; item: Json }>(
  chassis: readonly Member[],
): (Member & { within: string })[] {
  const withIn = chassis.map((one) => ({
    ...one,
    within: plainPath(textAt(one.item, 'Links', 'ContainedBy', '@odata.id')),
  }));
  const links = new Set(withIn.map(({ link }) => link));
  const placed = new Set<string>();
  const ordered: (Member & { within: string })[] = [];
  for (let rest = withIn; rest.length > 0;) {
    const next = rest.filter(({ within }) => !links.has(within) || placed.has(within));
    // rings contain nobody: they stand as they were told
    for (const one of next.length > 0 ? next : rest) {
      ordered.push(one);
      placed.add(one.link);
    }
    rest = rest.filter(({ link }) => !placed.has(link));
  }
  return ordered;
}

/** Temperatures, fan speeds and power as last read. Where a chassis has the newer ThermalMetrics, its older Thermal tells the same temperatures once more. */
export function redfishSensors(all: Map<string, Json>): SensorReading[] {
  const resources = new Map(all);
  for (const item of all.values()) {
    const newer = all.get(plainPath(textAt(item, 'ThermalSubsystem', '@odata.id')));
    const metrics = all.get(plainPath(textAt(newer, 'ThermalMetrics', '@odata.id')));
    if (listAt(metrics, 'TemperatureReadingsCelsius').length === 0) continue;
    const older = plainPath(textAt(item, 'Thermal', '@odata.id'));
    const thermal = all.get(older);
    if (thermal !== undefined) resources.set(older, { ...objectAt(thermal), Temperatures: [] });
  }
  const sensors: SensorReading[] = [];
  const add = (name: string, type: string, unit: string, value: number | null, item: Json) => {
    const state = textAt(item, 'Status', 'State');
    if (name && state !== 'Absent')
      sensors.push({ name, type, unit, value, state: value === null ? 'unavailable' : 'ok' });
  };
  for (const resource of resources.values()) {
    for (const item of listAt(resource, 'Temperatures'))
      add(textAt(item, 'Name'), 'celsius', '°C', numberAt(item, 'ReadingCelsius'), item);
    for (const item of listAt(resource, 'TemperatureReadingsCelsius'))
      add(
        textAt(item, 'DeviceName') || textAt(item, 'DataSourceUri').split('/').at(-1) || '',
        'celsius',
        '°C',
        numberAt(item, 'Reading'),
        item,
      );
    for (const item of listAt(resource, 'Fans'))
      if (objectAt(item) && numberAt(item, 'Reading') !== null)
        add(
          textAt(item, 'Name') || textAt(item, 'FanName'),
          'rpm',
          textAt(item, 'ReadingUnits') === 'Percent' ? '%' : '/min',
          numberAt(item, 'Reading'),
          item,
        );
    for (const item of listAt(resource, 'PowerControl'))
      add(textAt(item, 'Name') || 'Power drawn', 'watts', 'W', numberAt(item, 'PowerConsumedWatts'), item);
  }
  return sensors;
}

/** Units of Sensor.ReadingUnits (UCUM) as they are shown, by Sensor.ReadingType. */
const sensorKinds: Record<string, [type: string, unit: string]> = {
  Temperature: ['celsius', '°C'],
  Humidity: ['percentRH', '%'],
  Power: ['watts', 'W'],
  Voltage: ['voltsAC', 'V'],
  Current: ['amperes', 'A'],
  Rotational: ['rpm', '/min'],
  Frequency: ['hertz', 'Hz'],
  Percent: ['percent', '%'],
};

/** Readings of the Sensor, EnvironmentMetrics and PowerSupplyMetrics schemas, each by the name of what it is of. */
export function redfishMetrics(resources: ReadonlyMap<string, Json>): SensorReading[] {
  const found: SensorReading[] = [];
  const add = (name: string, [type, unit]: [string, string], value: number | null) => {
    if (name !== '') found.push({ name, type, unit, value, state: value === null ? 'unavailable' : 'ok' });
  };
  const membersAt = (item: Json, name: string) =>
    listAt(resources.get(plainPath(textAt(item, name, '@odata.id'))), 'Members').flatMap(
      (member) => resources.get(plainPath(textAt(member, '@odata.id'))) ?? [],
    );
  for (const item of resources.values()) {
    for (const sensor of membersAt(item, 'Sensors')) {
      const kind = sensorKinds[textAt(sensor, 'ReadingType')];
      if (kind && textAt(sensor, 'Status', 'State') !== 'Absent')
        add(textAt(sensor, 'Name'), kind, numberAt(sensor, 'Reading'));
    }
    const owner = textAt(item, 'Name') || textAt(item, 'Id');
    const environment = resources.get(plainPath(textAt(item, 'EnvironmentMetrics', '@odata.id')));
    // what stands there is a copy of a sensor; where the sensors themselves are read it is no other reading
    if (environment !== undefined && textAt(item, 'Sensors', '@odata.id') === '')
      for (const [field, what, kind] of [
        ['PowerWatts', 'power', sensorKinds.Power],
        ['TemperatureCelsius', 'temperature', sensorKinds.Temperature],
      ] as const)
        if (kind && numberAt(environment, field, 'Reading') !== null)
          add(`${owner} ${what}`, kind, numberAt(environment, field, 'Reading'));
    const metrics = resources.get(plainPath(textAt(item, 'Metrics', '@odata.id')));
    for (const [field, what, kind] of [
      ['InputPowerWatts', 'input power', sensorKinds.Power],
      ['OutputPowerWatts', 'output power', sensorKinds.Power],
      ['InputVoltage', 'input voltage', sensorKinds.Voltage],
    ] as const)
      if (kind && numberAt(metrics, field, 'Reading') !== null)
        add(`${owner} ${what}`, kind, numberAt(metrics, field, 'Reading'));
  }
  return found;
}

/** What is broken: parts that are not well, with the words of the log entry that named them, and entries that are said to be open. */
export function redfishFaults(
  resources: Map<string, Json>,
  parts: RedfishPart[],
  logs: ReadonlySet<string>,
): FaultFacts[] {
  const entries = [...resources]
    .filter(([path]) => logs.has(path))
    .flatMap(([, collection]) => listAt(collection, 'Members'))
    .map((member) =>
      Object.keys(objectAt(member) ?? {}).length > 1
        ? member
        : (resources.get(plainPath(textAt(member, '@odata.id'))) ?? null),
    );
  const telling = entries
    .flatMap((entry) => {
      const severity = textAt(entry, 'Severity');
      const message = textAt(entry, 'Message');
      if ((severity !== 'Critical' && severity !== 'Warning') || !message || entry === null) return [];
      return [
        {
          origin: textAt(entry, 'Links', 'OriginOfCondition', '@odata.id'),
          severity: severity === 'Critical' ? ('critical' as const) : ('warning' as const),
          message,
          action: textAt(entry, 'Resolution'),
          since: momentOf(textAt(entry, 'Created')),
          open: objectAt(entry)?.Resolved === false,
        },
      ];
    })
    .sort((x, y) => (y.since ?? '').localeCompare(x.since ?? ''));
  const told = new Set<unknown>();
  const faults: FaultFacts[] = [];
  for (const { resource, module, subsystem, health, failsSoon, state } of parts) {
    const isUnwell = health === 'Critical' || health === 'Warning';
    if ((!isUnwell && !failsSoon) || state === 'Absent') continue;
    const entry = telling.find(
      ({ origin }) => origin !== '' && (origin === resource || plainPath(origin) === resource),
    );
    for (const other of telling)
      if (other.origin !== '' && (other.origin === resource || plainPath(other.origin) === resource)) told.add(other);
    faults.push({
      subsystem,
      part: module.path,
      severity: health === 'Critical' ? 'critical' : 'warning',
      message: entry?.message ?? (failsSoon ? 'says that it will fail soon' : `its health is ${health.toLowerCase()}`),
      action: entry?.action || 'Look at the log of the management controller for this part.',
      since: entry?.since ?? null,
    });
  }
  for (const entry of telling) {
    if (!entry.open || told.has(entry)) continue;
    const part = parts.find(({ resource }) => resource === entry.origin || resource === plainPath(entry.origin));
    faults.push({
      subsystem: part?.subsystem ?? 'log',
      part: part?.module.path ?? (entry.origin.split('/').at(-1) || 'log'),
      severity: entry.severity,
      message: entry.message,
      action: entry.action || 'Look at the log of the management controller.',
      since: entry.since,
    });
  }
  return faults;
}

/** ISO moment, or null for what is none: controllers whose clock was never set write the year 1970. */
function momentOf(text: string): string | null {
  const time = Date.parse(text);
  return Number.isNaN(time) || time < Date.UTC(2000, 0, 1) ? null : new Date(time).toISOString();
}
