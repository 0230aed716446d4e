import type { DeviceFacts, DeviceReport, WayKind } from '../estate/facts';
import { isRoutableAddress } from '../values/ipAddress';

/** A report with nothing in it but who the device is: what a private interface tells goes on top. */
export function toldReport(
  kind: WayKind,
  device: Partial<DeviceFacts> & Pick<DeviceFacts, 'name' | 'role' | 'address'>,
  more: Partial<DeviceReport> = {},
): DeviceReport {
  const facts: DeviceFacts = {
    site: '',
    vendor: '',
    family: '',
    model: '',
    serial: '',
    release: '',
    bootRelease: '',
    addresses: isRoutableAddress(device.address) ? [device.address] : [],
    objectId: '',
    description: '',
    contact: '',
    location: '',
    memoryBytes: null,
    flashBytes: null,
    credential: '',
    signature: kind,
    units: [],
    bridgeAddress: null,
    engineId: null,
    processors: [],
    ...device,
    interfaces: [{ kind, address: device.address, credential: device.credential ?? '', release: '' }],
  };
  return {
    device: facts,
    volatile: { uptimeSeconds: null, flashFreeBytes: null, storage: [] },
    modules: chassisOf(facts),
    ports: [],
    portAges: {},
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
    ...more,
  };
}

/** The one module that is known of such a device: itself. */
function chassisOf({ name, vendor, model, serial, release }: DeviceFacts): DeviceReport['modules'] {
  if (!serial && !model) return [];
  return [
    {
      path: name,
      class: 'chassis',
      name,
      description: '',
      vendor,
      model,
      serial,
      hardwareRevision: '',
      firmwareRevision: '',
      softwareRevision: release,
      replaceable: true,
      position: 0,
      parent: null,
      empty: false,
      order: 0,
    },
  ];
}
