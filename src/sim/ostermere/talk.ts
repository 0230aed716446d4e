import type { MadePacket } from '../capture/pcapFile';
import type { SimEstate } from './model';

/** Sixty days of talk at Signal House, as a mirror port of the core hears it. */

const [hourMs, dayMs] = [3_600_000, 86_400_000];

/** Hours of the day, and on which days of the month; every day where it is not said. */
interface Rhythm {
  hours: readonly number[];
  onDay?: number;
  /** it ended so many days ago */
  endedDaysAgo?: number;
  /** it began so many days ago */
  beganDaysAgo?: number;
}

interface Habit {
  clients: readonly string[];
  server: string;
  port: number;
  protocol: 'tcp' | 'udp';
  rhythm: Rhythm;
  /** octets asked and answered each time */
  says: [asked: number, answered: number];
}

const [database, writer, bus, recorder] = ['10.72.1.11', '10.72.1.12', '10.72.1.13', '10.72.1.14'];
const servers = [database, writer, bus, recorder];
const backup = '10.72.41.11';
const paymentGateway = '10.72.42.11';
const displayGates = ['10.72.1.51', '10.72.1.52'];
const timeServer = '10.72.0.1';
/** What was planted, to be found by whoever looks. */
export const talkTruth = {
  /** once a month, on the third, at two at night */
  monthly: { client: writer, server: paymentGateway, port: 8443 },
  /** one machine still asks the old page of tram tracking: last 26 days ago */
  forgotten: { server: bus, port: 7080, lastDaysAgo: 26 },
  /** what nobody ordered was asked once */
  unordered: { server: writer, port: 4444, daysAgo: 3 },
};

const every = (step: number): number[] => Array.from({ length: Math.floor(24 / step) }, (_, nth) => nth * step);

function habitsOf(estate: SimEstate): Habit[] {
  const named = (prefix: string): string[] =>
    estate.guests.flatMap(({ name, address }) => (name.startsWith(prefix) && address ? [address] : []));
  const tcp = { protocol: 'tcp' } as const;
  const { monthly, forgotten, unordered } = talkTruth;
  const { lastDaysAgo } = forgotten;
  const desk = named('desk-rpw')[0] ?? named('printer-')[0] ?? '10.72.4.118';
  const kiosk = named('kiosk-rpw-3')[0] ?? '10.72.4.93';
  return [
    {
      ...tcp,
      clients: named('tm-'),
      server: writer,
      port: 443,
      rhythm: { hours: [5, 8, 11, 14, 17, 20] },
      says: [700, 2400],
    },
    {
      ...tcp,
      clients: named('tm-').slice(0, 9),
      server: database,
      port: 443,
      rhythm: { hours: [6, 18] },
      says: [600, 1900],
    },
    { ...tcp, clients: named('pid-'), server: bus, port: 4222, rhythm: { hours: every(6) }, says: [180, 5200] },
    ...displayGates.map((server, half) => ({
      ...tcp,
      clients: named('pid-').filter((_, nth) => nth % 2 === half),
      server,
      port: 8095,
      rhythm: { hours: [4, 12, 20] },
      says: [220, 3100] as [number, number],
    })),
    {
      ...tcp,
      clients: [recorder],
      server: named('cam-lqy-1')[0] ?? '10.72.3.71',
      port: 554,
      rhythm: { hours: every(3) },
      says: [400, 60_000],
    },
    { ...tcp, clients: [bus], server: writer, port: 5500, rhythm: { hours: every(2) }, says: [900, 7000] },
    { ...tcp, clients: servers, server: backup, port: 8730, rhythm: { hours: [1] }, says: [52_000, 900] },
    {
      protocol: 'udp',
      clients: [...servers, ...named('tm-'), ...named('pid-')],
      server: timeServer,
      port: 123,
      rhythm: { hours: [0, 12] },
      says: [48, 48],
    },
    {
      ...tcp,
      clients: [monthly.client],
      server: monthly.server,
      port: monthly.port,
      rhythm: { hours: [2], onDay: 3 },
      says: [41_000, 12_000],
    },
    {
      ...tcp,
      clients: [desk],
      server: forgotten.server,
      port: forgotten.port,
      rhythm: { hours: [9], endedDaysAgo: lastDaysAgo },
      says: [300, 4000],
    },
    {
      ...tcp,
      clients: [kiosk],
      server: unordered.server,
      port: unordered.port,
      rhythm: { hours: [3], beganDaysAgo: unordered.daysAgo, endedDaysAgo: unordered.daysAgo },
      says: [120, 90],
    },
  ];
}

/** Packets in the order of time. @param end the moment the capture ends, milliseconds since the epoch */
export function sampleTalk(estate: SimEstate, end: number, days = 60): MadePacket[] {
  const packets: MadePacket[] = [];
  const lastDay = Math.floor(end / dayMs) * dayMs;
  let clientPort = 49_200;
  for (const { clients, server, port, protocol, rhythm, says } of habitsOf(estate)) {
    const { hours, onDay, endedDaysAgo = 0, beganDaysAgo = days } = rhythm;
    for (let ago = Math.min(days, beganDaysAgo); ago >= endedDaysAgo; ago--) {
      const day = lastDay - ago * dayMs;
      if (onDay !== undefined && new Date(day).getUTCDate() !== onDay) continue;
      clients.forEach((client, nth) => {
        if (client === server) return;
        for (const hour of hours) {
          const at = day + hour * hourMs + nth * 37_000 + port;
          if (at + 60_000 > end) continue;
          clientPort = clientPort >= 65_000 ? 49_200 : clientPort + 1;
          packets.push(...exchange(at, [client, clientPort], [server, port], protocol, says));
        }
      });
    }
  }
  return packets.sort((x, y) => x.at - y.at);
}

type End = [address: string, port: number];

/** A connection with one question and its answer; over UDP the two alone. */
function exchange(
  at: number,
  client: End,
  server: End,
  protocol: 'tcp' | 'udp',
  [asked, answered]: [number, number],
): MadePacket[] {
  const packet = (ms: number, from: End, to: End, says: number, flags: number): MadePacket => ({
    at: at + ms,
    from: from[0],
    to: to[0],
    protocol,
    ports: [from[1], to[1]],
    says,
    flags,
  });
  if (protocol === 'udp') return [packet(0, client, server, asked, 0), packet(2, server, client, answered, 0)];
  return [
    packet(0, client, server, 0, 2),
    packet(1, server, client, 0, 18),
    packet(2, client, server, asked, 24),
    packet(40, server, client, answered, 24),
    packet(60, client, server, 0, 17),
  ];
}
