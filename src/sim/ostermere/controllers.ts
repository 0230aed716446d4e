import { serverTree, type SimController } from '../redfish/serverTree';
import type { SimDevice } from './model';
import { macFor } from './parts';

/** What the made-up operator's management controllers let in. */
export const sampleHardwareUser = { user: 'olr-hardware', password: 'lantern-rack-44' };

const memoryFailedAt = '2026-11-20T22:41:09Z';

/** The management controller of a Brannick server: the same metal that its operating system tells of, and more; null for what has none. */
export function controllerOf(device: SimDevice, step: number): SimController | null {
  const at = /^sgh-srv-0([1-4])$/.exec(device.name)?.[1];
  if (!at) return null;
  const parts = (pattern: RegExp) => device.modules.filter(({ name }) => pattern.test(name));
  const failed = step >= 8 && at === '4';
  // the board still knows the module that the operating system has lost
  const memory = Array.from({ length: 8 }, (_, place) => {
    const own = parts(new RegExp(`^DIMM ${place + 1}$`))[0];
    const lost = failed && place === 3;
    return {
      socket: `DIMM ${place + 1}`,
      serial: own?.serial ?? (lost ? lostModule : null),
      part: 'BM-16',
      megabytes: 16_384,
      health: lost ? ('Critical' as const) : ('OK' as const),
    };
  });
  const sys = '/redfish/v1/Systems/node';
  return {
    server: {
      name: device.name,
      maker: 'Brannick',
      model: device.model,
      serial: device.modules.find(({ class: kind }) => kind === 3)?.serial ?? '',
      uuid: `5a1d0e00-7201-4000-8000-0000000000${at.padStart(2, '0')}`,
      bios: /BIOS (\S+)/.exec(device.description)?.[1] ?? '',
      assetTag: `OLR-${2200 + Number(at)}`,
      powered: true,
    },
    controller: {
      firmware: at === '3' ? '3.08' : '3.11',
      mac: macFor('Brannick', `${device.name} controller`),
      address: `10.72.2.1${at}`,
    },
    processors: parts(/^CPU \d/).map(({ name, model }) => ({ socket: name, model, cores: 16 })),
    memory,
    drives: Array.from({ length: 4 }, (_, place) => {
      const own = parts(new RegExp(`^Drive ${place + 1}$`))[0];
      return {
        bay: `Drive ${place + 1}`,
        serial: own?.serial ?? null,
        model: own?.model ?? '',
        bytes: 960e9,
        health: 'OK' as const,
      };
    }),
    supplies: parts(/^Supply \d/).map(({ name, serial, model }) => ({ name, serial, model, health: 'OK' as const })),
    fans: [1, 2, 3, 4].map((fan) => ({ name: `Fan ${fan}`, speed: 5400 + fan * 60 })),
    nics: device.ports
      .filter(({ ifType }) => ifType === 6)
      .map(({ name, mac, speedMbps, oper }) => ({ id: name, mac, mega: speedMbps, up: oper === 'up' })),
    inletCelsius: 22 + Number(at),
    firmware: [
      { name: 'BIOS', version: /BIOS (\S+)/.exec(device.description)?.[1] ?? '' },
      { name: 'Management controller', version: at === '3' ? '3.08' : '3.11' },
      { name: 'Storage controller', version: '4.1.7' },
      { name: 'Network adapter', version: '21.4.2' },
    ],
    log: [
      {
        at: '2026-06-02T08:00:00Z',
        severity: 'OK',
        message: 'The power was switched on.',
        resolution: 'None.',
        origin: sys,
      },
      {
        at: '2026-08-14T03:10:00Z',
        severity: 'Warning',
        message: 'The inlet temperature rose above 38 degrees.',
        resolution: 'Check the cooling of the room.',
        origin: '/redfish/v1/Chassis/enclosure/Thermal',
        resolved: true,
      },
      ...(failed
        ? [
            {
              at: memoryFailedAt,
              severity: 'Critical' as const,
              message: 'Uncorrectable errors: the memory module in DIMM 4 was taken out of use.',
              resolution: 'Replace the module in DIMM 4 at the next restart.',
              origin: `${sys}/Memory/4`,
            },
          ]
        : []),
    ],
    generation: Number(at) <= 2 ? 'lists' : 'subsystems',
  };
}

/** Serial of the module in DIMM 4 of sgh-srv-04, which its operating system does not list any more once it failed. */
export const lostModule = 'BM-602159';

/** The trees of a device's controller by path. */
export const treeOf = (device: SimDevice, step: number): Map<string, Record<string, unknown>> | null => {
  const controller = controllerOf(device, step);
  return controller && serverTree(controller);
};
