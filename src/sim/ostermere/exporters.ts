import type { SeenTalk } from '../flows/exporter';
import type { SimEstate } from './model';

const [tcp, udp] = [6, 17];
/** Beyond the edges: addresses for documentation (RFC 5737). */
const [bank, weather, carrier] = ['198.51.100.20', '203.0.113.40', '198.51.100.77'];

/** Which devices of Ostermere export what they forward: the edges IPFIX, one switch NetFlow 5. */
export function exportersOf(
  estate: SimEstate,
): { device: string; address: string; version: 5 | 10; talk: SeenTalk[] }[] {
  const at = (site: string) =>
    estate.guests.flatMap(({ device, address }) => (device.startsWith(`${site}-`) && address ? [address] : []));
  const outside: SeenTalk[] = [
    { client: '10.72.1.12', server: bank, port: 8443, protocol: tcp, says: [5200, 3100] },
    { client: '10.72.1.13', server: weather, port: 443, protocol: tcp, says: [700, 18_000] },
    { client: '10.72.33.46', server: carrier, port: 5061, protocol: tcp, says: [2400, 2600] },
  ];
  const between: SeenTalk[] = [
    { client: '10.72.32.43', server: '10.72.1.14', port: 9443, protocol: tcp, says: [4000, 900_000] },
    { client: '10.72.48.42', server: '10.72.32.41', port: 8730, protocol: tcp, says: [240_000, 4000] },
    { client: '10.72.33.46', server: '10.72.32.44', port: 5061, protocol: tcp, says: [3000, 2800] },
  ];
  const desks: SeenTalk[] = at('hdp')
    .slice(0, 12)
    .map((client) => ({ client, server: '10.72.48.41', port: 443, protocol: tcp, says: [1400, 22_000] }));
  const names: SeenTalk[] = [...at('sgh').slice(0, 10), '10.72.33.46', '10.72.33.48'].map((client) => ({
    client,
    server: '10.72.33.47',
    port: 53,
    protocol: udp,
    says: [70, 180],
  }));
  const told: Record<string, { version: 5 | 10; talk: SeenTalk[] }> = {
    'sgh-edge-1': { version: 10, talk: [...outside, ...between] },
    'sgh-edge-2': { version: 10, talk: outside.slice(1) },
    'qdp-edge-1': { version: 10, talk: between },
    'hdp-dist-1': { version: 5, talk: desks },
    'sgh-acc-3': { version: 5, talk: names },
  };
  return estate.devices.flatMap(({ name, address }) => {
    const own = told[name];
    return own ? [{ device: name, address, ...own }] : [];
  });
}
