/** A capture as the tool at a mirror port would write it: pcap, microseconds, Ethernet. Written octet by octet, with nothing of what reads it. */

/** One packet of TCP or UDP over IPv4. */
export interface MadePacket {
  /** milliseconds since the epoch */
  at: number;
  from: string;
  to: string;
  protocol: 'tcp' | 'udp';
  ports: [from: number, to: number];
  /** TCP flags: 2 opens, 18 answers, 24 says, 17 ends */
  flags?: number;
  /** octets of what is said; they are counted, not written: heads alone were captured */
  says: number;
}

const ethernetHead = 14;
const ipHead = 20;

/** The head of the file. */
export function pcapHead(): Buffer {
  const head = Buffer.alloc(24);
  head.writeUInt32LE(0xa1b2c3d4, 0);
  head.writeUInt16LE(2, 4);
  head.writeUInt16LE(4, 6);
  head.writeUInt32LE(96, 16);
  head.writeUInt32LE(1, 20);
  return head;
}

export function pcapRecord({ at, from, to, protocol, ports, flags = 24, says }: MadePacket): Buffer {
  const portHead = protocol === 'tcp' ? 20 : 8;
  const captured = ethernetHead + ipHead + portHead;
  const record = Buffer.alloc(16 + captured);
  record.writeUInt32LE(Math.floor(at / 1000), 0);
  record.writeUInt32LE((at % 1000) * 1000, 4);
  record.writeUInt32LE(captured, 8);
  record.writeUInt32LE(captured + says, 12);
  const frame = record.subarray(16);
  frame.writeUInt8(2, 0);
  frame.writeUInt8(2, 6);
  frame.writeUInt16BE(0x0800, 12);
  const ip = frame.subarray(ethernetHead);
  ip.writeUInt8(0x45, 0);
  ip.writeUInt16BE(ipHead + portHead + says, 2);
  ip.writeUInt8(64, 8);
  ip.writeUInt8(protocol === 'tcp' ? 6 : 17, 9);
  from.split('.').forEach((octet, nth) => ip.writeUInt8(Number(octet), 12 + nth));
  to.split('.').forEach((octet, nth) => ip.writeUInt8(Number(octet), 16 + nth));
  const segment = ip.subarray(ipHead);
  segment.writeUInt16BE(ports[0], 0);
  segment.writeUInt16BE(ports[1], 2);
  if (protocol === 'tcp') {
    segment.writeUInt8(0x50, 12);
    segment.writeUInt8(flags, 13);
  } else segment.writeUInt16BE(portHead + says, 4);
  return record;
}
