import type { Guest, SimDevice } from './model';
import {
  accessSwitch,
  coreSwitch,
  distributionSwitch,
  leafSwitch,
  macFor,
  orreryBox,
  ringSwitch,
  serialOf,
  server,
  smallBox,
} from './parts';

/** What the sites beyond Signal House's first floor and the north stops are made of. */
export interface Building {
  step: number;
  add: (device: SimDevice) => SimDevice;
  cable: (a: string, aPort: string, b: string, bPort: string) => void;
  guests: Guest[];
}

/** South half-ring, then the two stops on a single spur each. */
export const southStops = [
  { code: 'KLN', net: 7, place: 'Kiln Lane' },
  { code: 'GLH', net: 8, place: 'Glasshouse' },
  { code: 'WVX', net: 9, place: 'Weavers Cross' },
  { code: 'MLR', net: 10, place: 'Millrace' },
  { code: 'ORP', net: 11, place: 'Orchard Park' },
  { code: 'SLM', net: 12, place: 'Saltmarsh' },
  { code: 'OBS', net: 13, place: 'Observatory' },
];
export const nets = { signalHouse: 33, quarry: 32, harbour: 48 };

/** The network in which the four cores tell each other their routes. */
export const transit = {
  vlan: 300,
  of: (centre: string, at: number): string => `10.72.254.${centre === 'sgh' ? at : 10 + at}`,
};

type Maker = Parameters<typeof macFor>[0];
const guest = (
  name: string,
  maker: Maker,
  address: string | null,
  vlan: number,
  device: string,
  port: string,
): Guest => ({ name, mac: macFor(maker, name), address, vlan, device, port });

const accessPoint = (name: string, address: string, site: string, location: string) =>
  smallBox(
    { name, address, site, location, release: '8.10.171', serial: serialOf('T6', 220_971) },
    'Tessaly',
    'T6',
    6,
    'access point',
    1,
  );
/** A camera that answers SNMP itself: the newer kind. */
const camera = (name: string, address: string, site: string, location: string) =>
  smallBox(
    { name, address, site, location, release: '3.4.0', serial: serialOf('CX5', 31_440) },
    'Calivex',
    'C5',
    5,
    'camera',
    1,
  );

/** One more access point at each of these stops, and cameras that answer for themselves. */
export function addNorthExtras(
  { add, cable }: Building,
  stops: { code: string; net: number; place: string; size: number }[],
  point = '02',
): void {
  for (const { code, net, place, size } of stops) {
    const low = code.toLowerCase();
    add(accessPoint(`${low}-ap-${point}`, `10.72.${net}.20`, code, `${place}, platform`));
    cable(`${low}-plat`, '19', `${low}-ap-${point}`, 'lan1');
    for (const at of [1, 2]) {
      add(camera(`${low}-ptz-${at}`, `10.72.${net}.${20 + at}`, code, `${place}, mast ${at}`));
      cable(`${low}-plat`, String(size - 2 + at), `${low}-ptz-${at}`, 'lan1');
    }
  }
}

/** Kiln Lane to Orchard Park between Signal House and Quarry Depot; Saltmarsh and Observatory hang on one line each. */
export function addSouthStops(building: Building): void {
  const { step, add, cable, guests } = building;
  southStops.forEach(({ code, net, place }, number) => {
    const low = code.toLowerCase();
    const upgraded = step >= 3 && ['KLN', 'GLH', 'SLM'].includes(code);
    add(
      ringSwitch({
        name: `${low}-ring`,
        address: `10.72.${net}.1`,
        site: code,
        location: `${place}, cabinet 1`,
        release: number % 2 ? '7.4.9' : '7.4.12b',
        serial: serialOf('KR12', 55_410),
        uptimeDays: 480 + number,
      }),
    );
    add(
      accessSwitch(
        {
          name: `${low}-plat`,
          address: `10.72.${net}.2`,
          site: code,
          location: `${place}, cabinet 1`,
          release: upgraded ? '7.4.12b' : '7.4.9',
          serial: serialOf('KA48', 96_200, 7),
          ...(upgraded && { uptimeDays: 190 }),
          ...(code === 'MLR' && { powerBudget: 210 }),
        },
        48,
      ),
    );
    cable(`${low}-ring`, '3', `${low}-plat`, 'U1');
    for (const at of [1, 2]) {
      add(accessPoint(`${low}-ap-0${at}`, `10.72.${net}.${7 + at}`, code, `${place}, platform`));
      cable(`${low}-plat`, String(18 + at), `${low}-ap-0${at}`, 'lan1');
      add(camera(`${low}-ptz-${at}`, `10.72.${net}.${20 + at}`, code, `${place}, mast ${at}`));
      cable(`${low}-plat`, String(46 + at), `${low}-ptz-${at}`, 'lan1');
    }
    stopGuests(guests, low, net);
  });
  const ring = southStops.slice(0, 5).map(({ code }) => `${code.toLowerCase()}-ring`);
  cable('sgh-core-1', '3/11', ring[0] ?? '', '1');
  ring.slice(1).forEach((next, at) => cable(ring[at] ?? '', '2', next, '1'));
  cable(ring[4] ?? '', '2', 'qdp-core-2', '3/10');
  cable('orp-ring', '4', 'slm-ring', '1');
  cable('qdp-core-1', '3/11', 'obs-ring', '1');
}

function stopGuests(guests: Guest[], low: string, net: number): void {
  const at = (host: number) => `10.72.${net}.${host}`;
  const plat = `${low}-plat`;
  for (let n = 1; n <= 4; n++)
    guests.push(
      guest(`tm-${low}-${n}`, 'Calivex', at(50 + n), 20, plat, String(n)),
      guest(`hp-${low}-${n}`, 'Calivex', at(60 + n), 50, plat, String(4 + n)),
    );
  for (let n = 1; n <= 8; n++) guests.push(guest(`cam-${low}-${n}`, 'Calivex', at(70 + n), 30, plat, String(20 + n)));
  for (let n = 1; n <= 6; n++) guests.push(guest(`pid-${low}-${n}`, 'Calivex', at(80 + n), 10, plat, String(8 + n)));
  for (let n = 1; n <= 8; n++)
    guests.push(guest(`staff-${low}-${n}`, 'Tessaly', at(120 + n), 40, plat, n <= 4 ? '19' : '20'));
  for (let n = 1; n <= 10; n++)
    guests.push(guest(`rider-${low}-${n}`, 'Tessaly', at(140 + n), 60, plat, n <= 5 ? '19' : '20'));
  for (let n = 1; n <= 5; n++)
    guests.push(guest(`points-${low}-${n}`, 'Orrery', at(170 + n), 80, plat, String(30 + n)));
}

/** Upper floors of Signal House, the second firewall and a virtual one, and the rest of its server rack. */
export function addSignalHouse({ add, cable, guests, step }: Building): void {
  const net = nets.signalHouse;
  const site = 'SGH';
  add(
    orreryBox(
      {
        name: 'sgh-fw-b',
        address: `10.72.${net}.9`,
        site,
        location: 'Signal House, equipment room',
        release: '2026.2-p3',
        serial: 'OF2-31871',
      },
      'F2',
    ),
  );
  cable('sgh-core-2', '3/2', 'sgh-fw-b', 'wan1');
  const virtual = add(
    orreryBox(
      {
        name: 'sgh-vfw-1',
        address: `10.72.${net}.10`,
        site,
        location: 'Signal House, virtual',
        release: '2026.1-p8',
        serial: '',
      },
      'F2',
    ),
  );
  virtual.modules = virtual.modules.filter(({ class: kind }) => kind === 3);
  virtual.description = virtual.description.replace('firewall', 'virtual firewall');
  for (let floor = 3; floor <= 6; floor++) {
    const name = `sgh-acc-${floor}`;
    add(
      accessSwitch(
        {
          name,
          address: `10.72.${net}.${20 + floor}`,
          site,
          location: `Signal House, floor ${floor - 1}`,
          release: '7.4.12b',
          serial: serialOf('KA48', 96_200, 7),
          memoryMB: 1024,
        },
        48,
      ),
    );
    cable('sgh-core-1', `4/${floor}`, name, 'U1');
    cable('sgh-core-2', `4/${floor}`, name, 'U2');
    for (let desk = 1; desk <= 30; desk++)
      guests.push(
        guest(
          `desk-${name}-${desk}`,
          'Brannick',
          desk % 9 === 0 ? null : `10.72.${net}.${(floor - 3) * 35 + 80 + desk}`,
          10,
          name,
          String(desk),
        ),
      );
  }
  for (let at = 5; at <= 8; at++) {
    const name = `sgh-srv-0${at}`;
    add(
      server(
        {
          name,
          address: `10.72.${net}.${40 + at}`,
          site,
          location: 'Signal House, rack 5',
          release: '6.1.4',
          serial: `BR2-1183${at}0`,
          boot: '2.14.1',
        },
        'R2',
        8,
      ),
    );
    cable(`sgh-acc-${at - 2}`, '41', name, 'eth0');
  }
  for (let at = 1; at <= 6; at++) {
    add(accessPoint(`sgh-ap-0${at}`, `10.72.${net}.${60 + at}`, site, `Signal House, floor ${1 + (at % 4)}`));
    cable(`sgh-acc-${3 + ((at - 1) % 4)}`, at <= 4 ? '44' : '45', `sgh-ap-0${at}`, 'lan1');
  }
  for (const at of [1, 2]) {
    add(
      smallBox(
        {
          name: `sgh-prn-${at}`,
          address: `10.72.${net}.${70 + at}`,
          site,
          location: `Signal House, floor ${at + 1}`,
          release: '1.9',
          serial: serialOf('BPR', 10_882),
        },
        'Brannick',
        'BP-40',
        40,
        'printer',
        1,
      ),
    );
    cable(`sgh-acc-${2 + at}`, '46', `sgh-prn-${at}`, 'lan1');
  }
  for (const at of [3, 4] as const) {
    add(
      leafSwitch({
        name: `sgh-leaf-${at}`,
        address: `10.72.${net}.${at}`,
        site,
        location: 'Signal House, rack 7',
        release: '5.2.1',
        serial: `FL32-2210${at}`,
      }),
    );
    cable(`sgh-core-${at - 2}`, '8/4', `sgh-leaf-${at}`, 'e1/49');
  }
  add(
    smallBox(
      {
        name: 'sgh-ups-2',
        address: `10.72.${net}.75`,
        site,
        location: 'Signal House, power room',
        release: step >= 6 ? '5.1.2' : '5.1.0',
        serial: 'FN9-00319',
      },
      'Fenmoor',
      'Fen 9',
      9,
      'power unit',
      1,
    ),
  );
  cable('sgh-acc-3', '47', 'sgh-ups-2', 'lan1');
}

/** The standby control centre: a core pair that closes both half-rings, edges, firewalls, a distribution pair, servers. */
export function addQuarryDepot({ add, cable, guests }: Building): void {
  const net = nets.quarry;
  const site = 'QDP';
  const room = 'Quarry Depot, equipment room';
  const cards = {
    3: { model: '48 × 10G SFP+', series: 'KL48', first: 22_071, ports: 12, speedMbps: 10_000 },
    6: { model: '32 × 1G RJ45', series: 'KL32', first: 19_004, ports: 8, speedMbps: 1000 },
    8: { model: '8 × 100G QSFP', series: 'KL08', first: 30_110, ports: 8, speedMbps: 100_000 },
  };
  const gateways = [net, nets.harbour, ...southStops.map((stop) => stop.net)];
  for (const at of [1, 2] as const) {
    add(
      coreSwitch(
        {
          name: `qdp-core-${at}`,
          address: `10.72.${net}.${at}`,
          site,
          location: room,
          release: '7.6.2',
          serial: `KC8-4081${at}-B`,
          uptimeDays: 290,
        },
        cards,
        [
          ...gateways.map((own) => ({
            vlan: 100 + own,
            address: own === net ? `10.72.${net}.${at}` : `10.72.${own}.${250 + at}`,
          })),
          { vlan: transit.vlan, address: transit.of('qdp', at) },
        ],
      ),
    );
  }
  cable('qdp-core-1', '8/1', 'qdp-core-2', '8/1');
  cable('qdp-core-1', '8/2', 'qdp-core-2', '8/2');
  cable('sgh-core-1', '8/5', 'qdp-core-1', '8/5');
  cable('sgh-core-2', '8/5', 'qdp-core-2', '8/5');
  for (const at of [1, 2] as const) {
    const edge = add(
      orreryBox(
        {
          name: `qdp-edge-${at}`,
          address: `10.72.${net}.${4 + at}`,
          site,
          location: room,
          release: '2026.2-p3',
          serial: `OE4-7713${at}`,
        },
        'E4',
      ),
    );
    // answers on the addresses of three lines
    if (at === 1) {
      edge.alsoAt = [`10.72.${net}.17`, `10.72.${net}.33`];
      edge.alsoAt.forEach((address, place) => edge.ports[place + 1]?.addresses.push({ address, length: 28 }));
    }
    cable(`qdp-core-${at}`, '3/1', `qdp-edge-${at}`, 'wan1');
    add(
      orreryBox(
        {
          name: `qdp-fw-${at === 1 ? 'a' : 'b'}`,
          address: `10.72.${net}.${8 + at}`,
          site,
          location: room,
          release: '2026.2-p3',
          serial: `OF2-3199${at}`,
        },
        'F2',
      ),
    );
    cable(`qdp-core-${at}`, '3/2', `qdp-fw-${at === 1 ? 'a' : 'b'}`, 'wan1');
    add(
      distributionSwitch({
        name: `qdp-dist-${at}`,
        address: `10.72.${net}.${20 + at}`,
        site,
        location: room,
        release: '7.6.2',
        serial: `KD32-1180${at}`,
        uptimeDays: 250,
      }),
    );
    cable(`qdp-core-${at}`, '3/3', `qdp-dist-${at}`, '31');
  }
  for (let at = 1; at <= 4; at++) {
    const name = `qdp-acc-${at}`;
    add(
      accessSwitch(
        {
          name,
          address: `10.72.${net}.${24 + at}`,
          site,
          location: `Quarry Depot, hall ${at}`,
          release: at === 4 ? '7.4.9' : '7.4.12b',
          serial: serialOf('KA48', 96_200, 7),
        },
        48,
      ),
    );
    cable('qdp-dist-1', String(at), name, 'U1');
    cable('qdp-dist-2', String(at), name, 'U2');
    for (let desk = 1; desk <= 24; desk++)
      guests.push(
        guest(
          `desk-${name}-${desk}`,
          'Brannick',
          desk % 8 === 0 ? null : `10.72.${net}.${(at - 1) * 26 + 100 + desk}`,
          10,
          name,
          String(desk),
        ),
      );
    for (let phone = 1; phone <= 6; phone++)
      guests.push(guest(`radio-${name}-${phone}`, 'Calivex', null, 50, name, String(30 + phone)));
    add(accessPoint(`qdp-ap-0${at}`, `10.72.${net}.${60 + at}`, site, `Quarry Depot, hall ${at}`));
    cable(name, '44', `qdp-ap-0${at}`, 'lan1');
    add(
      server(
        {
          name: `qdp-srv-0${at}`,
          address: `10.72.${net}.${40 + at}`,
          site,
          location: 'Quarry Depot, rack 1',
          release: '6.1.4',
          serial: `BR1-1190${at}4`,
          boot: '2.14.1',
        },
        'R1',
        4,
      ),
    );
    cable(`qdp-dist-${1 + (at % 2)}`, String(9 + at), `qdp-srv-0${at}`, 'eth0');
  }
  for (const at of [1, 2]) {
    add(
      smallBox(
        {
          name: `qdp-ups-${at}`,
          address: `10.72.${net}.${50 + at}`,
          site,
          location: 'Quarry Depot, power room',
          release: '5.1.0',
          serial: serialOf('FN9', 410, 3),
        },
        'Fenmoor',
        'Fen 9',
        9,
        'power unit',
        1,
      ),
    );
    cable(`qdp-acc-${at}`, '46', `qdp-ups-${at}`, 'lan1');
  }
}

/** Harbour Depot: a distribution pair on the cores of Quarry Depot, workshops, printers. */
export function addHarbourDepot({ add, cable, guests }: Building): void {
  const net = nets.harbour;
  const site = 'HDP';
  for (const at of [1, 2] as const) {
    add(
      distributionSwitch({
        name: `hdp-dist-${at}`,
        address: `10.72.${net}.${20 + at}`,
        site,
        location: 'Harbour Depot, equipment room',
        release: '7.6.2',
        serial: `KD32-1190${at}`,
        uptimeDays: 220,
      }),
    );
    cable(`qdp-core-${at}`, '3/4', `hdp-dist-${at}`, '31');
  }
  for (let at = 1; at <= 6; at++) {
    const name = `hdp-acc-${at}`;
    add(
      accessSwitch(
        {
          name,
          address: `10.72.${net}.${24 + at}`,
          site,
          location: `Harbour Depot, workshop ${at}`,
          release: at <= 2 ? '7.4.12b' : '7.4.9',
          serial: serialOf('KA48', 96_200, 7),
        },
        48,
      ),
    );
    cable('hdp-dist-1', String(at), name, 'U1');
    cable('hdp-dist-2', String(at), name, 'U2');
    for (let tool = 1; tool <= 24; tool++)
      guests.push(
        guest(
          `bench-${name}-${tool}`,
          'Brannick',
          tool % 6 === 0 ? null : `10.72.${net}.${(at - 1) * 22 + 80 + tool - Math.floor(tool / 6)}`,
          10,
          name,
          String(tool),
        ),
      );
    for (let unit = 1; unit <= 8; unit++)
      guests.push(guest(`tram-${name}-${unit}`, 'Orrery', null, 80, name, String(30 + unit)));
    add(accessPoint(`hdp-ap-0${at}`, `10.72.${net}.${60 + at}`, site, `Harbour Depot, workshop ${at}`));
    cable(name, '44', `hdp-ap-0${at}`, 'lan1');
  }
  for (const at of [1, 2]) {
    add(
      smallBox(
        {
          name: `hdp-prn-${at}`,
          address: `10.72.${net}.${70 + at}`,
          site,
          location: `Harbour Depot, office ${at}`,
          release: '1.9',
          serial: serialOf('BPR', 10_882),
        },
        'Brannick',
        'BP-40',
        40,
        'printer',
        1,
      ),
    );
    cable(`hdp-acc-${at}`, '46', `hdp-prn-${at}`, 'lan1');
    add(
      server(
        {
          name: `hdp-srv-0${at}`,
          address: `10.72.${net}.${40 + at}`,
          site,
          location: 'Harbour Depot, equipment room',
          release: '6.1.4',
          serial: `BR1-1191${at}7`,
          boot: '2.14.1',
        },
        'R1',
        4,
      ),
    );
    cable(`hdp-dist-${at}`, '11', `hdp-srv-0${at}`, 'eth0');
  }
  add(
    smallBox(
      {
        name: 'hdp-ups-1',
        address: `10.72.${net}.50`,
        site,
        location: 'Harbour Depot, power room',
        release: '5.1.0',
        serial: serialOf('FN9', 410, 3),
      },
      'Fenmoor',
      'Fen 9',
      9,
      'power unit',
      1,
    ),
  );
  cable('hdp-acc-1', '47', 'hdp-ups-1', 'lan1');
  // two lathes that somebody gave the same address
  guests.push(
    guest('lathe-1', 'Orrery', `10.72.${net}.77`, 80, 'hdp-acc-5', '40'),
    guest('lathe-2', 'Orrery', `10.72.${net}.77`, 80, 'hdp-acc-6', '40'),
  );
}
