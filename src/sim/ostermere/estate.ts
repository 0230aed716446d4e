import type { Cable, Guest, SimDevice, SimEstate } from './model';
import { applyHealth } from './health';
import { applyRouting } from './routing';
import { addHarbourDepot, addNorthExtras, addQuarryDepot, addSignalHouse, addSouthStops, nets, transit } from './sites';
import { addMachines, applyMachines, machineVlans } from './machines';
import { applyCalls, applyWorkload } from './workloads';
import { fabricGuests } from './services';
import {
  accessSwitch,
  coreSwitch,
  leafSwitch,
  macFor,
  orreryBox,
  resetSerials,
  ringSwitch,
  serialOf,
  server,
  smallBox,
} from './parts';

/** How many weekly surveys the story has. */
export const storyLength = 8;

const stops = [
  { code: 'LQY', net: 3, place: 'Lantern Quay', size: 24 as const },
  { code: 'RPW', net: 4, place: 'Ropewalk', size: 48 as const },
  { code: 'CHD', net: 5, place: 'Chandlery', size: 24 as const },
  { code: 'OFY', net: 6, place: 'Old Foundry', size: 24 as const },
];

/**
 * Ostermere Light Rail as it is at one step of the story, 1 to 8. The same step always gives the same network.
 * 1 baseline · 2 rpw-plat replaced · 3 K-Access release on half the stops · 4 a camera moved, a printer on 10 Mbit/s ·
 * 5 CHD's ring link down · 6 a drive added in sgh-srv-02, the system of two servers renewed · 7 Terminus East commissioned ·
 * 8 a duplex and a VLAN mismatch, two supplies and a memory module failed, ofy-plat silent.
 */
export function ostermere(step: number): SimEstate {
  resetSerials();
  const devices: SimDevice[] = [];
  const cables: Cable[] = [];
  const guests: Guest[] = [];
  const add = (device: SimDevice) => {
    device.uptimeSeconds += step * week;
    for (const port of device.ports) port.sinceSeconds += step * week;
    devices.push(device);
    return device;
  };
  const cable = (a: string, aPort: string, b: string, bPort: string, deaf?: string) =>
    cables.push({ a: { device: a, port: aPort }, b: { device: b, port: bPort }, ...(deaf && { deaf }) });

  const cards = {
    3: { model: '48 × 10G SFP+', series: 'KL48', first: 22_071, ports: 12, speedMbps: 10_000 },
    4: { model: '48 × 10G SFP+', series: 'KL48', first: 22_075, ports: 12, speedMbps: 10_000 },
    6: { model: '32 × 1G RJ45', series: 'KL32', first: 19_004, ports: 8, speedMbps: 1000 },
    8: { model: '8 × 100G QSFP', series: 'KL08', first: 30_110, ports: 8, speedMbps: 100_000 },
  };
  const gateways = [0, 1, nets.signalHouse, 3, 4, 5, 6, ...(step >= 7 ? [17] : [])];
  const core = (at: 1 | 2) =>
    add(
      coreSwitch(
        {
          name: `sgh-core-${at}`,
          address: `10.72.0.${at}`,
          site: 'SGH',
          location: 'Signal House, equipment room',
          release: '7.6.2',
          serial: at === 1 ? 'KC8-40718-A' : 'KC8-40722-C',
          ...(at === 2 && { supervisorMB: 2048, saved: false }),
          uptimeDays: 310,
        },
        cards,
        [
          ...gateways.map((net) => ({
            vlan: 100 + net,
            address: net === 0 ? `10.72.0.${at}` : `10.72.${net}.${250 + at}`,
          })),
          { vlan: transit.vlan, address: transit.of('sgh', at) },
        ],
      ),
    );
  core(1);
  core(2);
  for (const at of [1, 2] as const) {
    add(
      orreryBox(
        {
          name: `sgh-edge-${at}`,
          address: `10.72.0.${4 + at}`,
          site: 'SGH',
          location: 'Signal House, equipment room',
          release: at === 1 ? '2026.2-p3' : '2026.1-p8',
          serial: `OE4-7712${at - 1}`,
        },
        'E4',
      ),
    );
    cable(`sgh-core-${at}`, '3/1', `sgh-edge-${at}`, 'wan1');
  }
  cable('sgh-edge-1', 'wan8', 'sgh-edge-2', 'wan8');
  add(
    orreryBox(
      {
        name: 'sgh-fw-a',
        address: '10.72.0.9',
        site: 'SGH',
        location: 'Signal House, equipment room',
        release: '2026.2-p3',
        serial: 'OF2-31870',
      },
      'F2',
    ),
  );
  cable('sgh-core-1', '3/2', 'sgh-fw-a', 'wan1');
  cable('sgh-core-1', '8/1', 'sgh-core-2', '8/1');
  cable('sgh-core-1', '8/2', 'sgh-core-2', '8/2');
  for (const at of [1, 2]) {
    add(
      accessSwitch(
        {
          name: `sgh-acc-${at}`,
          address: `10.72.0.${20 + at}`,
          site: 'SGH',
          location: 'Signal House, floor 1',
          release: '7.4.12b',
          serial: serialOf('KA48', 90_010, 4),
          memoryMB: 1024,
        },
        48,
      ),
    );
    cable('sgh-core-1', `4/${at}`, `sgh-acc-${at}`, 'U1');
    cable('sgh-core-2', `4/${at}`, `sgh-acc-${at}`, 'U2', at === 2 ? 'sgh-acc-2' : undefined);
  }

  for (let at = 1; at <= 4; at++) {
    const box = add(
      server(
        {
          name: `sgh-srv-0${at}`,
          address: `10.72.1.${10 + at}`,
          site: 'SGH',
          location: 'Signal House, rack 4',
          release: step >= 6 && at <= 2 ? '6.1.5' : '6.1.4',
          serial: `BR${at <= 2 ? 1 : 2}-118${200 + at}`,
          boot: at === 3 ? '2.12.0' : '2.14.1',
        },
        at <= 2 ? 'R1' : 'R2',
        at === 4 && step >= 8 ? 3 : 4,
      ),
    );
    // the lost module keeps its serial
    if (at === 4 && step >= 8) serialOf('BM', 602_114, 3);
    if (at === 2 && step >= 6) {
      const bay = box.modules.find(({ name }) => name === 'Drive bay 3');
      if (bay)
        box.modules.push({
          ...bay,
          index: 900,
          parent: bay.index,
          class: 9,
          position: 1,
          name: 'Drive 3',
          description: '960 GB drive',
          model: 'BD-960',
          serial: 'BD-72400',
          replaceable: true,
        });
    }
    cable(`sgh-acc-${((at - 1) % 2) + 1}`, String(4 + at), box.name, 'eth0');
    // the second uplink of the hypervisors: that of sgh-srv-04 ends on the same switch as its first
    if (at >= 3) cable('sgh-acc-2', String(12 + at), box.name, 'eth1');
  }
  add(
    smallBox(
      {
        name: 'sgh-wlc',
        address: '10.72.1.30',
        site: 'SGH',
        location: 'Signal House, rack 4',
        release: '8.10.171',
        serial: 'TW2-00881',
      },
      'Tessaly',
      'T-Control 2',
      2,
      'wireless controller',
      2,
    ),
  );
  cable('sgh-acc-1', '10', 'sgh-wlc', 'lan1');
  add(
    smallBox(
      {
        name: 'sgh-ups-1',
        address: '10.72.1.40',
        site: 'SGH',
        location: 'Signal House, power room',
        release: '5.1.0',
        serial: 'FN9-00314',
      },
      'Fenmoor',
      'Fen 9',
      9,
      'power unit',
      1,
    ),
  );
  cable('sgh-acc-2', '11', 'sgh-ups-1', 'lan1');

  for (const at of [1, 2] as const) {
    add(
      leafSwitch({
        name: `sgh-leaf-${at}`,
        address: `10.72.0.${24 + at}`,
        site: 'SGH',
        location: 'Signal House, rack 6',
        release: '5.2.1',
        serial: `FL32-2210${at}`,
      }),
    );
    cable(`sgh-core-${at}`, '8/3', `sgh-leaf-${at}`, 'e1/49');
  }
  guests.push(...fabricGuests);

  const upgraded = step >= 3 ? ['LQY', 'RPW'] : [];
  stops.forEach(({ code, net, place, size }, at) => {
    const low = code.toLowerCase();
    add(
      ringSwitch({
        name: `${low}-ring`,
        address: `10.72.${net}.1`,
        site: code,
        location: `${place}, cabinet 1`,
        release: at % 2 ? '7.4.12b' : '7.4.9',
        serial: serialOf('KR12', 55_410),
        boot: code === 'CHD' ? '1.8' : '2.4',
        uptimeDays: 500,
      }),
    );
    add(
      accessSwitch(
        {
          name: `${low}-plat`,
          address: `10.72.${net}.2`,
          site: code,
          location: `${place}, cabinet 1`,
          release: upgraded.includes(code) ? '7.4.12b' : '7.4.9',
          serial: code === 'RPW' ? (step >= 2 ? 'KA48-93302' : 'KA48-90117') : serialOf('KA24', 61_085, 13),
          ...(code === 'OFY' && { memoryMB: 256 }),
          ...(code === 'CHD' && { flashMB: 512, flashFreeMB: 22 }),
        },
        size,
      ),
    );
    cable(`${low}-ring`, '3', `${low}-plat`, 'U1');
    add(
      smallBox(
        {
          name: `${low}-ap-01`,
          address: `10.72.${net}.8`,
          site: code,
          location: `${place}, platform`,
          release: '8.10.171',
          serial: serialOf('T6', 220_971),
        },
        'Tessaly',
        'T6',
        6,
        'access point',
        1,
      ),
    );
    cable(`${low}-plat`, '20', `${low}-ap-01`, 'lan1');
    platformGuests(code, net, step, guests);
  });
  cable('sgh-core-1', '3/10', 'lqy-ring', '1');
  cable('lqy-ring', '2', 'rpw-ring', '1');
  cable('rpw-ring', '2', 'chd-ring', '1');
  cable('chd-ring', '2', 'ofy-ring', '1');
  cable('ofy-ring', '2', 'qdp-core-1', '3/10');
  for (let at = 1; at <= 14; at++) {
    guests.push(
      guest(`desk-sgh-${at}`, 'Brannick', `10.72.1.${100 + at}`, 10, `sgh-acc-${(at % 2) + 1}`, String(20 + at)),
    );
  }

  const building = { step, add, cable, guests };
  addSignalHouse(building);
  addQuarryDepot(building);
  addNorthExtras(building, stops);
  addSouthStops(building);
  addHarbourDepot(building);
  addMachines(add);
  // last: what comes new takes the serials that come next, and nobody else's
  if (step >= 7) {
    add(
      ringSwitch({
        name: 'tme-ring',
        address: '10.72.17.1',
        site: 'TME',
        location: 'Terminus East, cabinet 1',
        release: '7.4.12b',
        serial: 'KR12-60233',
        uptimeDays: -40,
      }),
    );
    add(
      accessSwitch(
        {
          name: 'tme-plat',
          address: '10.72.17.2',
          site: 'TME',
          location: 'Terminus East, cabinet 1',
          release: '7.4.12b',
          serial: 'KA24-70419',
          memoryMB: 1024,
          uptimeDays: -40,
        },
        24,
      ),
    );
    cable('ofy-ring', '4', 'tme-ring', '1');
    cable('tme-ring', '3', 'tme-plat', 'U1');
    platformGuests('TME', 17, step, guests);
    // their SNMP was never switched on
    for (const machine of guests) if (/^(hp-tme-|pid-tme-)/.test(machine.name)) machine.answersHttps = true;
    addNorthExtras(building, [{ code: 'TME', net: 17, place: 'Terminus East', size: 24 }], '01');
  }

  applyCables(devices, cables, guests, step);
  applyAges(devices, step);
  applyOddities(devices);
  for (const device of devices) {
    applyWorkload(device, step);
    applyMachines(device);
    applyHealth(device, step);
    applyRouting(device);
  }
  applyCalls(devices);
  applyPortTroubles(devices, step);
  if (step >= 8) {
    const half = devices.find(({ name }) => name === 'lqy-ring')?.ports.find(({ name }) => name === '3');
    if (half) {
      half.duplex = 'half';
      half.lost = [4182, 0, 0, 96];
    }
    const native = devices.find(({ name }) => name === 'rpw-plat')?.ports.find(({ name }) => name === 'U1');
    if (native) native.pvid = 10;
    return { devices: devices.filter(({ name }) => name !== 'ofy-plat'), cables, guests };
  }
  return { devices, cables, guests };
}

/** Small wrongs of long standing. */
function applyOddities(devices: SimDevice[]): void {
  const byName = new Map(devices.map((device) => [device.name, device]));
  const uplink = byName.get('hdp-dist-1')?.ports.find(({ name }) => name === '31');
  if (uplink) uplink.mtu = 1500;
  const late = byName.get('qdp-srv-02');
  // the clock of one server was never set
  if (late) late.clockAheadSeconds = -(3 * 3600 + 600);
}

const week = 604_800;

/** What was replaced or upgraded has restarted since; a port is no longer in its state than its device is up. */
function applyAges(devices: SimDevice[], step: number): void {
  const restarted: [device: string, atStep: number][] = [
    ['rpw-plat', 2],
    ['rpw-plat', 3],
    ['lqy-plat', 3],
    ['sgh-srv-01', 6],
    ['sgh-srv-02', 6],
  ];
  for (const [name, atStep] of restarted) {
    const device = devices.find((candidate) => candidate.name === name);
    if (device && step >= atStep) device.uptimeSeconds = (step - atStep) * week + 2 * 86_400;
  }
  const plat = devices.find(({ name }) => name === 'rpw-plat');
  for (const port of plat?.ports ?? [])
    if (step >= 4 && ['6', '9', '15'].includes(port.name)) port.sinceSeconds = (step - 4) * week + 86_400;
  for (const device of devices)
    for (const port of device.ports) port.sinceSeconds = Math.min(port.sinceSeconds, device.uptimeSeconds);
}

function guest(
  name: string,
  maker: Guest['name'] extends string ? Parameters<typeof macFor>[0] : never,
  address: string | null,
  vlan: number,
  device: string,
  port: string,
): Guest {
  return { name, mac: macFor(maker, name), address, vlan, device, port };
}

function platformGuests(code: string, net: number, step: number, guests: Guest[]): void {
  const low = code.toLowerCase();
  const plat = `${low}-plat`;
  const at = (host: number) => `10.72.${net}.${host}`;
  for (const n of [1, 2]) guests.push(guest(`tm-${low}-${n}`, 'Calivex', at(50 + n), 20, plat, String(n)));
  guests.push(
    guest(`hp-${low}-n`, 'Calivex', at(61), 50, plat, '4'),
    guest(`hp-${low}-s`, 'Calivex', at(62), 50, plat, '5'),
  );
  for (const n of [1, 2, 3, 4]) {
    const moved = code === 'RPW' && n === 3 && step >= 4;
    guests.push(guest(`cam-${low}-${n}`, 'Calivex', at(70 + n), 30, plat, moved ? '15' : String(6 + n)));
  }
  for (const n of [1, 2]) guests.push(guest(`pid-${low}-${n}`, 'Calivex', at(80 + n), 10, plat, String(16 + n)));
  for (const n of [1, 2, 3]) guests.push(guest(`staff-${low}-${n}`, 'Tessaly', at(120 + n), 40, plat, '20'));
  if (code !== 'RPW') return;
  guests.push(guest('printer-rpw', 'Brannick', at(66), 10, plat, '6'));
  for (let n = 1; n <= 5; n++) guests.push(guest(`kiosk-rpw-${n}`, 'Calivex', at(90 + n), 60, plat, '12'));
  guests.push({ ...guest('phone-2-114', 'Calivex', at(114), 50, plat, '14'), lldp: 'phone' });
  guests.push(guest(step >= 6 ? 'desk-rpw-2' : 'desk-rpw-1', 'Brannick', at(step >= 6 ? 119 : 118), 10, plat, '14'));
  if (step >= 7) guests.push({ name: '', mac: '06:91:0e:77:10:3c', address: null, vlan: 10, device: plat, port: '16' });
}

/** A port with a cable or a guest is up; guests set its VLAN; the ring's spare and every second uplink are blocked. */
function applyCables(devices: SimDevice[], cables: Cable[], guests: Guest[], step: number): void {
  const byName = new Map(devices.map((device) => [device.name, device]));
  const portOf = ({ device, port }: { device: string; port: string }) =>
    byName.get(device)?.ports.find(({ name }) => name === port);
  for (const { a, b } of cables) {
    for (const [here, there] of [
      [a, b],
      [b, a],
    ] as const) {
      const port = portOf(here);
      if (!port) continue;
      port.oper = 'up';
      port.alias = `to ${there.device} ${there.port}`;
      const other = byName.get(there.device);
      if (other && !other.bridge && byName.get(here.device)?.bridge) {
        port.pvid = 70;
        port.tagged = other.lldp && other.maker === 'Tessaly' ? [40, 60] : [];
        port.mtu = portOf(there)?.mtu ?? 1500;
      }
    }
    const [x, y] = [portOf(a), portOf(b)];
    if (x && y) x.speedMbps = y.speedMbps = Math.min(x.speedMbps, y.speedMbps);
  }
  for (const { device, port: name, vlan, lldp, name: guestName } of guests) {
    const port = portOf({ device, port: name });
    if (!port) continue;
    port.oper = 'up';
    if (!port.alias)
      port.alias = guestName
        .replace(/-\d+$/, '')
        .replace(
          /^(cam|tm|hp|pid)-/,
          (_, kind: string) =>
            ({ cam: 'camera ', tm: 'ticket machine ', hp: 'help point ', pid: 'display ' })[kind] ?? '',
        );
    if (port.power && /^(cam|hp|pid|phone|staff)-/.test(guestName))
      port.power = {
        status: 3,
        classification: guestName.startsWith('staff-') ? 5 : guestName.startsWith('phone') ? 3 : 4,
      };
    if (lldp) port.tagged = [50];
    else if (!port.tagged.includes(vlan)) port.pvid = vlan;
    if (guestName.startsWith('tm-') || guestName.startsWith('hp-')) port.speedMbps = 100;
    if (guestName === 'printer-rpw' && step >= 4) {
      port.speedMbps = 10;
      port.duplex = 'half';
    }
  }
  // ports of hypervisors carry the VLANs of their machines; at one of them somebody forgot the second
  for (const { a, b } of cables) {
    const port = /^sgh-srv-0[34]$/.test(b.device) ? portOf(a) : undefined;
    if (port) port.tagged = a.device === 'sgh-acc-2' && a.port === '15' ? [10] : [...machineVlans];
  }
  for (const name of ['sgh-core-1', 'sgh-core-2', 'qdp-core-1', 'qdp-core-2']) {
    const device = byName.get(name);
    const aggregate = device?.ports.find((port) => port.name === 'agg1');
    for (const port of device?.ports ?? [])
      if (['8/1', '8/2'].includes(port.name) && aggregate) port.aggregate = aggregate.index;
    if (aggregate) aggregate.oper = 'up';
  }
  const ringCut = step >= 5;
  const spare = devices.filter(({ name }) => /^(sgh|qdp|hdp)-acc-/.test(name)).map(({ name }) => [name, 'U2']);
  // the lines between the two centres and the south half-ring close loops: one end of each rests
  const blocked = [
    ...spare,
    ['qdp-core-2', '8/5'],
    ['hdp-dist-2', '31'],
    ['qdp-dist-2', '31'],
    ['orp-ring', '1'],
    ...(ringCut ? [] : [['ofy-ring', '1']]),
  ];
  for (const [device = '', port = ''] of blocked) {
    const found = portOf({ device, port });
    if (found) found.blocked = true;
  }
  if (ringCut) {
    for (const end of [
      { device: 'rpw-ring', port: '2' },
      { device: 'chd-ring', port: '1' },
    ]) {
      const port = portOf(end);
      if (port) {
        port.oper = 'down';
        port.sinceSeconds = (step - 5) * week + 345_600;
      }
    }
  }
  const unused = byName.get('rpw-plat')?.ports.find(({ name }) => name === '30');
  if (unused) unused.admin = 'down';
}

/** A cable at Kiln Lane that is kinked, and more so every week; a printer on 10 Mbit/s that collides; what is thrown away at Glasshouse when the cameras all speak at once; a loop that somebody patched in a workshop. */
function applyPortTroubles(devices: SimDevice[], step: number): void {
  const portOf = (device: string, name: string) =>
    devices.find((one) => one.name === device)?.ports.find((one) => one.name === name);
  const looped = devices
    .find(({ name }) => name === 'hdp-acc-3')
    ?.ports.findLast(({ oper, admin, power }) => oper === 'down' && admin === 'up' && power);
  if (looped && step >= 6) looped.cutOff = 2;
  const [kinked, slow, busy] = [portOf('kln-plat', '7'), portOf('rpw-plat', '6'), portOf('glh-plat', 'U1')];
  if (kinked) kinked.lost = [310 * step * step, 0, 0, 0];
  if (slow && step >= 4) slow.lost = [12 * (step - 3), 31 * (step - 3), 0, 0];
  if (busy) busy.lost = [0, 0, 0, 44 * step];
}
