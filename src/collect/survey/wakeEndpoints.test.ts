import { afterEach, expect, test } from '@jest/globals';
import { createSocket, type Socket } from 'node:dgram';
import { wakeEndpoints } from './wakeEndpoints';

const sockets: Socket[] = [];
afterEach(() => sockets.splice(0).forEach((socket) => socket.close()));

/** Machines that note what reaches their port. */
async function machines(addresses: string[]): Promise<Map<string, number>> {
  const heard = new Map<string, number>();
  for (const address of addresses) {
    const socket = createSocket('udp4');
    sockets.push(socket);
    socket.on('message', () => heard.set(address, (heard.get(address) ?? 0) + 1));
    await new Promise<void>((resolve, reject) => {
      socket.once('error', reject);
      socket.bind(port, address, () => resolve());
    });
  }
  return heard;
}
const port = 21_446;
const inside = (place: string) => ({ address: place.replace(/^10\.72\./, '127.211.'), port });
const options = { placeOf: inside, packetsPerSecond: 1000, cancelled: () => false };

test('each address is touched once, through the translation, and addresses where nobody lives cost nothing', async () => {
  const heard = await machines(['127.211.4.51', '127.211.4.53']);
  const addresses = Array.from({ length: 120 }, (_, at) => `10.72.4.${at + 1}`);
  expect(await wakeEndpoints(addresses, options)).toBe(120);
  for (let wait = 0; wait < 50 && heard.size < 2; wait++) await new Promise((resolve) => setTimeout(resolve, 10));
  expect([...heard]).toEqual([
    ['127.211.4.51', 1],
    ['127.211.4.53', 1],
  ]);
});

test('a cancelled survey wakes nobody any more; no address, no packet', async () => {
  let asked = 0;
  expect(
    await wakeEndpoints(
      Array.from({ length: 500 }, (_, at) => `10.72.5.${at % 250}`),
      { ...options, packetsPerSecond: 100, cancelled: () => asked++ > 1 },
    ),
  ).toBe(10);
  expect(await wakeEndpoints([], options)).toBe(0);
});
