import { dataOf9, version9 } from '../src/sim/flows/flowExports';

/** Datagrams of version 9, numbered from 1, each with so many records of what is asked on port 443. @param whichOf client, server and port of the client of each record */
export const datagramsOf = (
  count: number,
  records: number,
  now: number,
  whichOf: (datagram: number, record: number) => { from: string; to: string; port: number },
): Buffer[] =>
  Array.from({ length: count }, (_, at) =>
    version9(
      [
        dataOf9(
          256,
          Array.from({ length: records }, (__, nth) => {
            const { from, to, port } = whichOf(at, nth);
            return {
              from,
              to,
              ports: [port, 443] as [number, number],
              protocol: 6,
              packets: 7,
              octets: 4000,
              first: now - 60,
              last: now - 50,
            };
          }),
          now,
        ),
      ],
      now,
      at + 1,
    ),
  );
