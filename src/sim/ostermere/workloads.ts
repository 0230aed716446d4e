import type { SimConnection, SimDevice, SimProcess } from './model';

const any4 = '0.0.0.0';

interface Workload {
  processes: [
    name: string,
    path: string,
    parameters: string,
    listens: [protocol: 'tcp' | 'udp', port: number, address?: string][],
  ][];
  /** remote address and port, by the process that calls */
  calls: [process: string, address: string, port: number][];
}

/** What the servers of Ostermere do: ticketing on a database pair, passenger information, tram tracking, recording. */
function workloadOf(name: string, step: number): Workload {
  const base: Workload['processes'] = [
    ['systemd', '/usr/lib/systemd/systemd', '--system', []],
    [
      'sshd',
      '/usr/sbin/sshd',
      '-D',
      [
        ['tcp', 22],
        ['tcp', 22, '::'],
      ],
    ],
    ['snmpd', '/usr/sbin/snmpd', '-Lo -f', [['udp', 161]]],
    ['chronyd', '/usr/sbin/chronyd', '-F 2', [['udp', 323, '127.0.0.1']]],
  ];
  // at step 6 the database fails over: the writer moves from the first server to the second
  const writer = step >= 6 ? '10.72.1.12' : '10.72.1.11';
  switch (name) {
    case 'sgh-srv-01':
    case 'sgh-srv-02': {
      const other = name === 'sgh-srv-01' ? '10.72.1.12' : '10.72.1.11';
      return {
        processes: [
          ...base,
          [
            'tallydb',
            '/opt/tally/bin/tallydb',
            `--data /srv/tally --role ${(name === 'sgh-srv-01') === step < 6 ? 'writer' : 'reader'}`,
            [
              ['tcp', 5500],
              ['tcp', 5501],
            ],
          ],
          [
            'fareweb',
            '/opt/ticketing/bin/fareweb',
            '--workers 8',
            [
              ['tcp', 443],
              ['tcp', 8080, '127.0.0.1'],
            ],
          ],
          // nobody ordered this one
          ...(step >= 6 && name === 'sgh-srv-02'
            ? [['burrow', '/tmp/.cache/burrow', '--keep 4444', [['tcp', 4444]]] as Workload['processes'][number]]
            : []),
        ],
        calls: [
          ['fareweb', writer, 5500],
          ['tallydb', other, 5501],
        ],
      };
    }
    case 'sgh-srv-03':
      return {
        processes: [
          ...base,
          [
            'busd',
            '/opt/pis/bin/busd',
            '--cluster pis',
            [
              ['tcp', 4222],
              ['tcp', 8222],
            ],
          ],
          ['feedgen', '/opt/pis/bin/feedgen', '--every 20', [['tcp', 8090]]],
          [
            'tramtrack',
            '/opt/track/bin/tramtrack',
            '',
            [
              ['udp', 7007],
              ['tcp', 7080],
            ],
          ],
        ],
        calls: [
          ['feedgen', '10.72.1.14', 4222],
          ['tramtrack', writer, 5500],
          ['tramtrack', '10.72.1.53', 7090],
        ],
      };
    case 'sgh-srv-04':
      return {
        processes: [
          ...base,
          ['busd', '/opt/pis/bin/busd', '--cluster pis', [['tcp', 4222]]],
          [
            'recorder',
            '/opt/cctv/bin/recorder',
            '--store /srv/video',
            [
              ['tcp', 8554],
              ['tcp', 9443],
            ],
          ],
        ],
        calls: [
          ['recorder', '10.72.3.71', 554],
          ['recorder', '10.72.4.71', 554],
          ['busd', '10.72.1.13', 4222],
        ],
      };
    default: {
      const more = otherWorkloads[name] ?? machineWorkloads[name];
      return more ? { processes: [...base, ...more.processes], calls: more.calls } : { processes: [], calls: [] };
    }
  }
}

/** What the servers do that no step of the story changes: the third of the bus, voice, what everybody asks, the depots. */
const otherWorkloads: Record<string, Workload> = {
  'sgh-srv-05': {
    processes: [['busd', '/opt/pis/bin/busd', '--cluster pis', [['tcp', 4222]]]],
    calls: [
      ['busd', '10.72.1.13', 4222],
      ['busd', '10.72.1.14', 4222],
    ],
  },
  'sgh-srv-06': {
    processes: [
      [
        'callctl',
        '/opt/voice/bin/callctl',
        '--site signal-house',
        [
          ['udp', 5060],
          ['tcp', 5061],
        ],
      ],
    ],
    calls: [
      ['callctl', '10.72.33.47', 389],
      ['callctl', '10.72.32.44', 5061],
    ],
  },
  'sgh-srv-07': {
    processes: [
      [
        'nameserv',
        '/usr/sbin/nameserv',
        '--zone ostermere.example',
        [
          ['udp', 53],
          ['tcp', 53],
        ],
      ],
      [
        'dirserv',
        '/usr/sbin/dirserv',
        '--base /srv/directory',
        [
          ['tcp', 389],
          ['tcp', 636],
        ],
      ],
    ],
    calls: [],
  },
  'sgh-srv-08': {
    processes: [
      ['logkeep', '/usr/sbin/logkeep', '--keep 400d', [['udp', 514]]],
      ['postd', '/usr/sbin/postd', '', [['tcp', 25]]],
    ],
    calls: [['postd', '10.72.33.47', 389]],
  },
  'qdp-srv-01': {
    processes: [['vaultstore', '/opt/vault/bin/vaultstore', '--pool /srv/vault', [['tcp', 8730]]]],
    calls: [],
  },
  'qdp-srv-02': { processes: [], calls: [] },
  'qdp-srv-03': {
    processes: [['archiver', '/opt/cctv/bin/archiver', '--from sgh-srv-04 --keep 90d', [['tcp', 9444]]]],
    calls: [['archiver', '10.72.1.14', 9443]],
  },
  'qdp-srv-04': {
    processes: [
      [
        'callctl',
        '/opt/voice/bin/callctl',
        '--site quarry-depot',
        [
          ['udp', 5060],
          ['tcp', 5061],
        ],
      ],
    ],
    calls: [['callctl', '10.72.33.47', 389]],
  },
  'hdp-srv-01': {
    processes: [['depotweb', '/opt/depot/bin/depotweb', '--workers 4', [['tcp', 443]]]],
    calls: [
      ['depotweb', '10.72.48.42', 5610],
      ['depotweb', '10.72.33.47', 389],
    ],
  },
  'hdp-srv-02': {
    processes: [['depotdb', '/opt/depot/bin/depotdb', '--data /srv/depot', [['tcp', 5610]]]],
    calls: [['depotdb', '10.72.32.41', 8730]],
  },
};

const pisGate: Workload = {
  processes: [['pisgate', '/opt/pis/bin/pisgate', '--displays all', [['tcp', 8095]]]],
  calls: [
    ['pisgate', '10.72.1.13', 4222],
    ['pisgate', '10.72.1.14', 4222],
  ],
};

/** What runs in the virtual machines. */
const machineWorkloads: Record<string, Workload> = {
  'vm-pis-1': pisGate,
  'vm-pis-2': pisGate,
  'vm-track-1': {
    processes: [['trackmap', '/opt/track/bin/trackmap', '--wall control-room', [['tcp', 7090]]]],
    calls: [['trackmap', '10.72.1.13', 4222]],
  },
  'vm-depot-1': {
    processes: [['planboard', '/opt/depot/bin/planboard', '--workshop all', [['tcp', 8460]]]],
    calls: [['planboard', '10.72.48.42', 5610]],
  },
  'vm-voice-1': {
    processes: [['voicebox', '/opt/voice/bin/voicebox', '--store /srv/voice', [['tcp', 5080]]]],
    calls: [
      ['voicebox', '10.72.33.46', 5061],
      ['voicebox', '10.72.33.47', 389],
    ],
  },
};

/** Who is called knows of it: at the other end of each connection stands the process that listens there. */
export function applyCalls(devices: SimDevice[]): void {
  const byAddress = new Map(devices.map((device) => [device.address, device]));
  const calls = devices.flatMap((device) => device.connections ?? []);
  for (const { local, remote } of calls) {
    const called = byAddress.get(remote.address);
    const listener = called?.processes?.find(({ listens }) =>
      listens.some(({ protocol, port }) => protocol === 'tcp' && port === remote.port),
    );
    if (called && listener)
      (called.connections ??= []).push({ process: listener.number, local: remote, remote: local });
  }
}

const packages = [
  'base-files 12.4',
  'chrony 4.3-2',
  'kernel-image 6.1.5',
  'libssl3 3.0.11',
  'openssh-server 9.2p1',
  'snmpd 5.9.3',
  'systemd 252.17',
];

/** Gives a server its processes, sockets, connections and packages. */
export function applyWorkload(device: SimDevice, step: number): void {
  const { processes, calls } = workloadOf(device.name, step);
  if (processes.length === 0) return;
  const numberOf = (at: number) => (at === 0 ? 1 : 400 + at * 37);
  device.processes = processes.map(([name, path, parameters, listens], at): SimProcess => ({
    number: numberOf(at),
    name,
    path,
    parameters,
    listens: listens.map(([protocol, port, address = any4]) => ({ protocol, port, address })),
  }));
  device.connections = calls.map(([process, address, port], at): SimConnection => ({
    process: device.processes?.find(({ name }) => name === process)?.number ?? 0,
    local: { address: device.address, port: 41_000 + at * 17 },
    remote: { address, port },
  }));
  const renewed = step >= 6 && (device.name === 'sgh-srv-01' || device.name === 'sgh-srv-02');
  const installedAt = new Date(Date.UTC(2025, 10, 4, 9, 30));
  device.installed = packages
    .map((name) => (name.startsWith('kernel-image') ? `kernel-image ${device.release}` : name))
    .map((name) => ({
      name,
      type: name.startsWith('kernel') ? 2 : 4,
      at: renewed && /kernel|libssl/.test(name) ? new Date(Date.UTC(2026, 10, 7, 22, 15)) : installedAt,
    }));
}
