import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { addressOrNull, ipv4FromNumber, ipv4Number } from '../core/values/ipAddress';
import * as ber from './snmp/ber';
import { Agent } from './snmp/agent';
import { ObjectTree, type Instance } from './snmp/objects';

/** Agents that answer what walk files hold: `.1.3.6… = TYPE: value` a line, file name = address. */
export function agentsFromWalks(folder: string, base: string, port: number): { agents: Agent[]; problems: string[] } {
  const agents: Agent[] = [];
  const problems: string[] = [];
  for (const file of readdirSync(folder).sort()) {
    const address = addressOrNull(file.replace(/\.(txt|walk|snmpwalk)$/i, ''));
    if (!address || address.includes(':')) {
      problems.push(`${file}: its name is not an IPv4 address`);
      continue;
    }
    const instances: Instance[] = [];
    let unreadable = 0;
    for (const line of readFileSync(path.join(folder, file), 'utf8').split(/\n(?=\.?\d+(?:\.\d+)+ = )/)) {
      const match = /^\.?([\d.]+) = ([^:"]+): ?(.*)$/s.exec(line.trimEnd());
      if (!match) {
        if (line.trim() !== '' && !/= ""$/.test(line.trim())) unreadable++;
        continue;
      }
      const value = encodeWalkValue(match[2] ?? '', match[3] ?? '');
      if (value) instances.push({ oid: (match[1] ?? '').split('.').map(Number), value });
      else unreadable++;
    }
    if (unreadable > 0) problems.push(`${file}: ${unreadable} lines could not be read`);
    agents.push(
      new Agent(
        {
          address: onLoopback(address, base),
          port,
          engineId: Buffer.from(`8000e6dd04${Buffer.from(address).toString('hex')}`, 'hex'),
          communities: ['public'],
          users: [],
        },
        new ObjectTree(instances),
      ),
    );
  }
  return { agents, problems };
}

/** The address with the same lower sixteen bits in the loopback network the agents use. */
export function onLoopback(address: string, base: string): string {
  return ipv4FromNumber(((ipv4Number(base) & 0xffff0000) | (ipv4Number(address) & 0xffff)) >>> 0);
}

function encodeWalkValue(type: string, text: string): Buffer | null {
  const number = Number(/-?\d+/.exec(text)?.[0]);
  switch (type) {
    case 'INTEGER':
      return ber.integer(number);
    case 'Gauge32':
    case 'Unsigned32':
      return ber.integer(number, ber.tag.gauge32);
    case 'Counter32':
      return ber.integer(number, ber.tag.counter32);
    case 'Timeticks':
      return ber.integer(number, ber.tag.timeticks);
    case 'Counter64':
      return ber.counter64(BigInt(text.trim()));
    case 'OID':
      return ber.oid(text.trim().replace(/^\./, '').split('.').map(Number));
    case 'IpAddress':
      return ber.wrap(ber.tag.ipAddress, Buffer.from(text.trim().split('.').map(Number)));
    case 'STRING':
      return ber.octets(text.replace(/^"(.*)"$/s, '$1'));
    case 'Hex-STRING':
      return ber.octets(Buffer.from(text.replace(/\s+/g, ''), 'hex'));
    default:
      return null;
  }
}
