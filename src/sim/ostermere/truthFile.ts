import { controllerOf } from './controllers';
import { ostermere } from './estate';
import { fabricBox, hypervisorBox, spines } from './services';
import { plantedOddities } from './truth';

/** What the sample estate really is at a step, for whoever wants to hold a survey against it. */
export function truthOf(step: number) {
  const { devices, cables, guests } = ostermere(step);
  return {
    step,
    devices: [
      ...devices.map((device) => ({
        name: device.name,
        address: device.address,
        maker: device.maker,
        model: device.model,
        release: device.release,
        location: device.location,
        serial: device.modules.find(({ class: kind }) => kind === 3)?.serial ?? '',
        managementController: controllerOf(device, step)?.controller.address ?? null,
        serials: device.modules.map(({ serial }) => serial).filter(Boolean),
        ports: device.ports.map(({ name, oper, admin, mtu, speedMbps, duplex, pvid, tagged }) => ({
          name,
          oper,
          admin,
          mtu,
          speedMbps,
          duplex,
          pvid,
          tagged,
        })),
        services: (device.processes ?? []).flatMap(({ name, listens }) =>
          listens.map((socket) => ({ process: name, ...socket })),
        ),
        machines: (device.machines ?? []).map(({ name, uuid, running }) => ({ name, uuid, running })),
      })),
      ...[...spines, fabricBox, hypervisorBox].map(({ name, address, model, serial, release }) => ({
        name,
        address,
        model,
        serial,
        release,
      })),
    ],
    cables: cables.map(({ a, b, deaf }) => ({ a, b, ...(deaf && { deaf }) })),
    endpoints: guests.map(({ name, mac, address, vlan, device, port }) => ({ name, mac, address, vlan, device, port })),
    oddities: plantedOddities
      .filter(({ fromStep }) => fromStep <= step)
      .map(({ name, thing, where, field, says, rows }) => ({ name, thing, where, field, says: says.source, rows })),
  };
}
