/** A server as its management controller knows it. Written apart from anything that reads it. */
export interface SimController {
  server: {
    name: string;
    maker: string;
    model: string;
    serial: string;
    uuid: string;
    bios: string;
    assetTag?: string;
    powered: boolean;
  };
  /** firmware of the controller and its own port */
  controller: { firmware: string; mac: string; address: string };
  processors: { socket: string; model: string; cores: number }[];
  memory: {
    socket: string;
    serial: string | null;
    part: string;
    megabytes: number;
    health: 'OK' | 'Warning' | 'Critical';
  }[];
  drives: { bay: string; serial: string | null; model: string; bytes: number; health: 'OK' | 'Warning' | 'Critical' }[];
  supplies: { name: string; serial: string; model: string; health: 'OK' | 'Warning' | 'Critical' }[];
  fans: { name: string; speed: number }[];
  nics: { id: string; mac: string; mega: number; up: boolean }[];
  inletCelsius: number;
  firmware: { name: string; version: string }[];
  log: {
    at: string;
    severity: 'OK' | 'Warning' | 'Critical';
    message: string;
    resolution: string;
    origin: string;
    resolved?: boolean;
  }[];
  /** older controllers list supplies and fans in Power and Thermal, newer ones in subsystems */
  generation: 'lists' | 'subsystems';
}

type Resource = Record<string, unknown>;
const status = (health: string, state = 'Enabled') => ({ State: state, Health: health });
const ref = (path: string) => ({ '@odata.id': path });

/** Every resource of the controller by its path. */
export function serverTree(box: SimController): Map<string, Resource> {
  const tree = new Map<string, Resource>();
  const put = (path: string, type: string, resource: Resource) =>
    tree.set(path, { '@odata.id': path, '@odata.type': `#${type}`, Id: path.split('/').at(-1) ?? '', ...resource });
  const list = (path: string, name: string, members: string[]) =>
    put(path, `${name}Collection.${name}Collection`, {
      Name: `${name} collection`,
      Members: members.map(ref),
      'Members@odata.count': members.length,
    });
  const { server, controller } = box;
  const sys = '/redfish/v1/Systems/node';
  const cha = '/redfish/v1/Chassis/enclosure';
  const man = '/redfish/v1/Managers/bmc';

  put('/redfish/v1', 'ServiceRoot.v1_14_0.ServiceRoot', {
    Name: 'Root service',
    RedfishVersion: '1.15.0',
    UUID: server.uuid,
    Systems: ref('/redfish/v1/Systems'),
    Chassis: ref('/redfish/v1/Chassis'),
    Managers: ref('/redfish/v1/Managers'),
    UpdateService: ref('/redfish/v1/UpdateService'),
    SessionService: ref('/redfish/v1/SessionService'),
    AccountService: ref('/redfish/v1/AccountService'),
    Links: { Sessions: ref('/redfish/v1/SessionService/Sessions') },
  });
  list('/redfish/v1/Systems', 'ComputerSystem', [sys]);
  put(sys, 'ComputerSystem.v1_18_0.ComputerSystem', {
    Name: 'System',
    SystemType: 'Physical',
    Manufacturer: server.maker,
    Model: server.model,
    SerialNumber: server.serial,
    UUID: server.uuid.toUpperCase(),
    HostName: server.name,
    PowerState: server.powered ? 'On' : 'Off',
    BiosVersion: server.bios,
    AssetTag: server.assetTag ?? null,
    MemorySummary: {
      TotalSystemMemoryGiB: box.memory.reduce(
        (sum, one) => sum + (one.serial && one.health !== 'Critical' ? one.megabytes / 1024 : 0),
        0,
      ),
      Status: status('OK'),
    },
    ProcessorSummary: { Count: box.processors.length, Model: box.processors[0]?.model },
    Status: { ...status('OK'), HealthRollup: 'Critical' },
    Processors: ref(`${sys}/Processors`),
    Memory: ref(`${sys}/Memory`),
    Storage: ref(`${sys}/Storage`),
    EthernetInterfaces: ref(`${sys}/EthernetInterfaces`),
    Bios: ref(`${sys}/Bios`),
    LogServices: ref(`${sys}/LogServices`),
    Links: { Chassis: [ref(cha)], ManagedBy: [ref(man)] },
  });
  put(`${sys}/Bios`, 'Bios.v1_2_0.Bios', { Name: 'BIOS', Attributes: { BootMode: 'Uefi', Turbo: true } });
  list(
    `${sys}/Processors`,
    'Processor',
    box.processors.map((_, at) => `${sys}/Processors/${at + 1}`),
  );
  box.processors.forEach(({ socket, model, cores }, at) =>
    put(`${sys}/Processors/${at + 1}`, 'Processor.v1_16_0.Processor', {
      Name: `Processor ${at + 1}`,
      Socket: socket,
      Manufacturer: server.maker,
      Model: model,
      TotalCores: cores,
      Status: status('OK'),
    }),
  );
  list(
    `${sys}/Memory`,
    'Memory',
    box.memory.map((_, at) => `${sys}/Memory/${at + 1}`),
  );
  box.memory.forEach(({ socket, serial, part, megabytes, health }, at) =>
    put(`${sys}/Memory/${at + 1}`, 'Memory.v1_16_0.Memory', {
      Name: `Memory ${at + 1}`,
      DeviceLocator: socket,
      ...(serial === null
        ? { Status: { State: 'Absent' } }
        : {
            CapacityMiB: megabytes,
            MemoryDeviceType: 'DDR5',
            Manufacturer: server.maker,
            SerialNumber: serial,
            PartNumber: part,
            Status: status(health, health === 'Critical' ? 'Disabled' : 'Enabled'),
          }),
    }),
  );
  list(`${sys}/Storage`, 'Storage', [`${sys}/Storage/internal`]);
  put(`${sys}/Storage/internal`, 'Storage.v1_13_0.Storage', {
    Name: 'Internal storage',
    Drives: box.drives.map((_, at) => ref(`${sys}/Storage/internal/Drives/${at}`)),
    StorageControllers: [
      {
        MemberId: '0',
        Name: 'Storage controller',
        Manufacturer: server.maker,
        Model: 'BS-4',
        FirmwareVersion: '4.1.7',
        Status: status('OK'),
      },
    ],
  });
  box.drives.forEach(({ bay, serial, model, bytes, health }, at) =>
    put(`${sys}/Storage/internal/Drives/${at}`, 'Drive.v1_16_0.Drive', {
      Name: `Drive ${at}`,
      PhysicalLocation: { PartLocation: { ServiceLabel: bay, LocationOrdinalValue: at } },
      ...(serial === null
        ? { Status: { State: 'Absent' } }
        : {
            Manufacturer: server.maker,
            Model: model,
            SerialNumber: serial,
            Revision: 'D2',
            CapacityBytes: bytes,
            MediaType: 'SSD',
            Protocol: 'NVMe',
            Status: status(health),
          }),
    }),
  );
  list(
    `${sys}/EthernetInterfaces`,
    'EthernetInterface',
    box.nics.map(({ id }) => `${sys}/EthernetInterfaces/${id}`),
  );
  for (const { id, mac, mega, up } of box.nics)
    put(`${sys}/EthernetInterfaces/${id}`, 'EthernetInterface.v1_9_0.EthernetInterface', {
      Name: `Interface ${id}`,
      PermanentMACAddress: mac.toUpperCase(),
      MACAddress: mac.toUpperCase(),
      SpeedMbps: mega,
      LinkStatus: up ? 'LinkUp' : 'LinkDown',
      Status: status('OK'),
    });
  list(`${sys}/LogServices`, 'LogService', [`${sys}/LogServices/events`]);
  put(`${sys}/LogServices/events`, 'LogService.v1_4_0.LogService', {
    Name: 'Event log',
    Entries: ref(`${sys}/LogServices/events/Entries`),
  });
  put(`${sys}/LogServices/events/Entries`, 'LogEntryCollection.LogEntryCollection', {
    Name: 'Entries',
    'Members@odata.count': box.log.length,
    Members: box.log.map(({ at, severity, message, resolution, origin, resolved }, place) => ({
      '@odata.id': `${sys}/LogServices/events/Entries/${place + 1}`,
      Id: String(place + 1),
      Name: `Entry ${place + 1}`,
      EntryType: 'Event',
      Created: at,
      Severity: severity,
      Message: message,
      Resolution: resolution,
      ...(resolved !== undefined && { Resolved: resolved }),
      Links: { OriginOfCondition: ref(origin) },
    })),
  });

  list('/redfish/v1/Chassis', 'Chassis', [cha]);
  put(cha, 'Chassis.v1_22_0.Chassis', {
    Name: 'Enclosure',
    ChassisType: 'RackMount',
    Manufacturer: server.maker,
    Model: server.model,
    SerialNumber: server.serial,
    Status: status('OK'),
    NetworkAdapters: ref(`${cha}/NetworkAdapters`),
    Location: { Placement: { Rack: '4', RackOffset: 12 } },
    ...(box.generation === 'lists'
      ? { Power: ref(`${cha}/Power`), Thermal: ref(`${cha}/Thermal`) }
      : { PowerSubsystem: ref(`${cha}/PowerSubsystem`), ThermalSubsystem: ref(`${cha}/ThermalSubsystem`) }),
    Links: { ComputerSystems: [ref(sys)], ManagedBy: [ref(man)] },
  });
  list(`${cha}/NetworkAdapters`, 'NetworkAdapter', [`${cha}/NetworkAdapters/ocp`]);
  put(`${cha}/NetworkAdapters/ocp`, 'NetworkAdapter.v1_9_0.NetworkAdapter', {
    Name: 'Network adapter',
    Manufacturer: server.maker,
    Model: 'BN-4x10',
    SerialNumber: `BN-${server.serial.slice(-4)}`,
    Controllers: [{ FirmwarePackageVersion: '21.4.2' }],
    Status: status('OK'),
  });
  if (box.generation === 'lists') {
    put(`${cha}/Power`, 'Power.v1_7_0.Power', {
      Name: 'Power',
      PowerControl: [{ Name: 'Power drawn', PowerConsumedWatts: 212 }],
      PowerSupplies: box.supplies.map(({ name, serial, model, health }, at) => ({
        '@odata.id': `${cha}/Power#/PowerSupplies/${at}`,
        MemberId: String(at),
        Name: name,
        Manufacturer: server.maker,
        Model: model,
        SerialNumber: serial,
        FirmwareVersion: '1.3',
        Status: status(health),
      })),
    });
    put(`${cha}/Thermal`, 'Thermal.v1_7_0.Thermal', {
      Name: 'Thermal',
      Temperatures: [
        {
          Name: 'Inlet temperature',
          ReadingCelsius: box.inletCelsius,
          UpperThresholdCritical: 45,
          Status: status('OK'),
        },
      ],
      Fans: box.fans.map(({ name, speed }, at) => ({
        '@odata.id': `${cha}/Thermal#/Fans/${at}`,
        MemberId: String(at),
        Name: name,
        Reading: speed,
        ReadingUnits: 'RPM',
        Status: status('OK'),
      })),
    });
  } else {
    put(`${cha}/PowerSubsystem`, 'PowerSubsystem.v1_1_0.PowerSubsystem', {
      Name: 'Power subsystem',
      PowerSupplies: ref(`${cha}/PowerSubsystem/PowerSupplies`),
    });
    list(
      `${cha}/PowerSubsystem/PowerSupplies`,
      'PowerSupply',
      box.supplies.map((_, at) => `${cha}/PowerSubsystem/PowerSupplies/${at + 1}`),
    );
    box.supplies.forEach(({ name, serial, model, health }, at) =>
      put(`${cha}/PowerSubsystem/PowerSupplies/${at + 1}`, 'PowerSupply.v1_5_0.PowerSupply', {
        Name: name,
        Manufacturer: server.maker,
        Model: model,
        SerialNumber: serial,
        FirmwareVersion: '1.3',
        Status: status(health),
      }),
    );
    put(`${cha}/ThermalSubsystem`, 'ThermalSubsystem.v1_0_0.ThermalSubsystem', {
      Name: 'Thermal subsystem',
      Fans: ref(`${cha}/ThermalSubsystem/Fans`),
      ThermalMetrics: ref(`${cha}/ThermalSubsystem/ThermalMetrics`),
    });
    list(
      `${cha}/ThermalSubsystem/Fans`,
      'Fan',
      box.fans.map((_, at) => `${cha}/ThermalSubsystem/Fans/${at + 1}`),
    );
    box.fans.forEach(({ name, speed }, at) =>
      put(`${cha}/ThermalSubsystem/Fans/${at + 1}`, 'Fan.v1_3_0.Fan', {
        Name: name,
        SpeedPercent: { SpeedRPM: speed },
        Status: status('OK'),
      }),
    );
    put(`${cha}/ThermalSubsystem/ThermalMetrics`, 'ThermalMetrics.v1_0_0.ThermalMetrics', {
      Name: 'Thermal metrics',
      TemperatureReadingsCelsius: [
        { DeviceName: 'Inlet temperature', Reading: box.inletCelsius, DataSourceUri: `${cha}/Sensors/inlet` },
      ],
    });
  }

  list('/redfish/v1/Managers', 'Manager', [man]);
  put(man, 'Manager.v1_17_0.Manager', {
    Name: 'Management controller',
    ManagerType: 'BMC',
    FirmwareVersion: controller.firmware,
    EthernetInterfaces: ref(`${man}/EthernetInterfaces`),
    Status: status('OK'),
  });
  list(`${man}/EthernetInterfaces`, 'EthernetInterface', [`${man}/EthernetInterfaces/dedicated`]);
  put(`${man}/EthernetInterfaces/dedicated`, 'EthernetInterface.v1_9_0.EthernetInterface', {
    Name: 'Dedicated port',
    PermanentMACAddress: controller.mac.toUpperCase(),
    SpeedMbps: 1000,
    LinkStatus: 'LinkUp',
    IPv4Addresses: [{ Address: controller.address, SubnetMask: '255.255.255.0', Gateway: null }],
    Status: status('OK'),
  });
  put('/redfish/v1/UpdateService', 'UpdateService.v1_11_0.UpdateService', {
    Name: 'Update service',
    FirmwareInventory: ref('/redfish/v1/UpdateService/FirmwareInventory'),
  });
  list(
    '/redfish/v1/UpdateService/FirmwareInventory',
    'SoftwareInventory',
    box.firmware.map((_, at) => `/redfish/v1/UpdateService/FirmwareInventory/${at + 1}`),
  );
  box.firmware.forEach(({ name, version }, at) =>
    put(`/redfish/v1/UpdateService/FirmwareInventory/${at + 1}`, 'SoftwareInventory.v1_9_0.SoftwareInventory', {
      Name: name,
      Version: version,
      Updateable: true,
    }),
  );
  return tree;
}
