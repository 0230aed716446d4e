import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { DisturbedAgent, type Disturbance } from '../../../e2e/support/disturbedAgent';
import { freeUdpPort } from '../../../e2e/support/program';
import { countIn, element, kindOf, namesIn, withVariables } from '../../../e2e/support/snmpMessages';
import type { CommunityCredential, UserCredential } from '../../core/estate/credential';
import type { TableRows } from '../../core/mib/table';
import type { AgentUser } from '../../sim/snmp/usm';
import { ObjectTree, ObjectWriter } from '../../sim/snmp/objects';
import { SourceError } from '../source';
import { LiveAgent } from './liveAgent';
import { UdpTransport } from './udpTransport';

/** The reader against the stand-in, over sockets: what it asks, in how many packets, and what it makes of odd answers. */
const address = '127.203.1.1';
const entry = '1.3.6.1.2.1.2.2.1';
const community: CommunityCredential = { name: 'c', kind: 'snmp2c', community: 'reads' };
const users: AgentUser[] = (['SHA-1', 'SHA-224', 'SHA-256', 'SHA-384', 'SHA-512'] as const).map((authProtocol) => ({
  name: `olr-${authProtocol}`,
  authProtocol,
  authPassword: 'lantern-quay-1',
  privProtocol: 'AES-128',
  privPassword: 'lantern-quay-2',
}));
const plainly: Disturbance = (octets) => [{ octets }];
const rows = 120;
const columns = [1, 2, 3];

let port: number;
let transport: UdpTransport;
const standIns: DisturbedAgent[] = [];

function tree(more: (write: ObjectWriter) => void = () => undefined): ObjectTree {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.5.0', 'lqy-ring');
  for (let row = 1; row <= rows; row++) {
    write.integer(`${entry}.1.${row}`, row);
    // the second column has holes, the third ends early
    if (row % 7) write.text(`${entry}.2.${row}`, `port ${row}`);
    if (row <= 40) write.integer(`${entry}.3.${row}`, 6);
  }
  write.text(`${entry}.4.1`, 'another column');
  more(write);
  return new ObjectTree(write.instances);
}
async function standIn(disturb: Disturbance = plainly, objects = tree()): Promise<DisturbedAgent> {
  const agent = new DisturbedAgent(
    { address, port, engineId: Buffer.from('8000e6dd0301', 'hex'), communities: ['reads'], users },
    objects,
    disturb,
  );
  standIns.push(agent);
  await agent.listen('127.203.1.2');
  return agent;
}
const reader = (credential: CommunityCredential | UserCredential = community, mostRows?: number) =>
  new LiveAgent(transport, { address, port, timeoutMs: 150, retries: 0 }, credential, mostRows);
const faultOf = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
    return 'none';
  } catch (error) {
    if (error instanceof SourceError) return `${error.fault}: ${error.message}`;
    throw error;
  }
};

beforeEach(async () => {
  port = await freeUdpPort();
  transport = new UdpTransport();
});
afterEach(() => {
  transport.close();
  for (const agent of standIns.splice(0)) agent.close();
});

const cellsOf = (table: TableRows) =>
  [...table].flatMap(({ index, cells }) =>
    columns.flatMap((column) => (cells.get(column) ? [`${entry}.${column}.${index.join('.')}`] : [])),
  );

describe('reading columns', () => {
  test('every cell once, holes and early ends and all, nothing of the neighbours', async () => {
    await standIn();
    const found = cellsOf(await reader().columns(entry, columns));
    const expected = Array.from({ length: rows }, (_, at) => at + 1).flatMap((row) => [
      `${entry}.1.${row}`,
      ...(row % 7 ? [`${entry}.2.${row}`] : []),
      ...(row <= 40 ? [`${entry}.3.${row}`] : []),
    ]);
    expect(found.sort()).toEqual(expected.sort());
  });
  test('takes hardly more packets than its cells need', async () => {
    const agent = await standIn(
      plainly,
      tree((write) => {
        for (let row = 1; row <= 2000; row++) write.integer(`1.3.6.1.2.1.17.7.1.2.2.1.2.${row}`, 1);
      }),
    );
    const started = agent.requests;
    expect([...(await reader().columns('1.3.6.1.2.1.17.7.1.2.2.1', [2]))]).toHaveLength(2000);
    // 1,330 octets hold about 57 of these
    expect(agent.requests - started).toBeLessThanOrEqual(42);
  });
  test('an empty table costs one question', async () => {
    const agent = await standIn();
    expect([...(await reader().columns('1.3.6.1.2.1.99.1', [1, 2]))]).toEqual([]);
    expect(agent.requests).toBe(1);
  });
  test('version 1 reads the same, to the noSuchName at the end', async () => {
    const agent = await standIn();
    const old: CommunityCredential = { ...community, kind: 'snmp1' };
    expect(cellsOf(await reader(old).columns(entry, columns))).toEqual(cellsOf(await reader().columns(entry, columns)));
    expect(await reader(old).get(['1.3.6.1.2.1.1.9.0', '1.3.6.1.2.1.1.5.0', '1.3.6.1.2.1.1.6.0'])).toMatchObject([
      { oid: '1.3.6.1.2.1.1.5.0' },
    ]);
    // the last column of all ends with the tree itself
    expect([...(await reader(old).columns(entry, [4]))]).toHaveLength(1);
    expect(agent.requests).toBeGreaterThan(rows);
  });
  test('an agent that answers tooBig is asked for less until it fits', async () => {
    let refused = 0;
    await standIn((octets) => (octets.length > 600 ? [{ octets: (refused++, tooBig(octets)) }] : [{ octets }]));
    expect(cellsOf(await reader().columns(entry, columns))).toHaveLength(rows + Math.ceil((rows * 6) / 7) + 40);
    expect(refused).toBeGreaterThan(0);
  });
  test('a table without end is broken off, with what it gave', async () => {
    class Endless extends ObjectTree {
      override next(oid: number[]) {
        const at = [...oid];
        at.push((at.length > 10 ? (at.pop() ?? 0) : 0) + 1);
        return { oid: at, value: Buffer.from('020101', 'hex') };
      }
    }
    await standIn(plainly, new Endless([]));
    expect(await faultOf(reader(community, 3000).columns(entry, [1]))).toMatch(
      /^misbehaving: the table .* more than 3000 values: it seems never to end/,
    );
  });
  test('what came before a silence is not lost', async () => {
    await standIn((octets, count) => (count <= 1 ? [{ octets }] : []));
    try {
      await reader().columns(entry, [1]);
      throw new Error('read to the end');
    } catch (error) {
      expect(error).toMatchObject({ fault: 'no answer' });
      expect([...(error as SourceError).partial].length).toBeGreaterThan(20);
    }
  });
});

/** A v2c answer as its agent would refuse it: error status 1, no variables. */
function tooBig(octets: Buffer): Buffer {
  const pdu = octets.indexOf(0xa2, 12);
  const id = octets.indexOf(0x02, pdu + 1);
  const number = octets.subarray(id, id + 2 + (octets[id + 1] ?? 0));
  const body = Buffer.concat([number, Buffer.from('020101' + '020100' + '3000', 'hex')]);
  const inner = Buffer.concat([
    Buffer.from('020101', 'hex'),
    Buffer.from([0x04, 5]),
    Buffer.from('reads'),
    Buffer.from([0xa2, body.length]),
    body,
  ]);
  return Buffer.concat([Buffer.from([0x30, inner.length]), inner]);
}

describe('scalars', () => {
  test('what is not there is left out', async () => {
    await standIn();
    expect(await reader().get(['1.3.6.1.2.1.1.5.0', '1.3.6.1.2.1.1.6.0'])).toMatchObject([
      { oid: '1.3.6.1.2.1.1.5.0' },
    ]);
    expect(await reader().get([])).toEqual([]);
  });
  test('more than fit one question are asked in several', async () => {
    const agent = await standIn();
    expect(await reader().get(Array.from({ length: 90 }, (_, at) => `${entry}.1.${at + 1}`))).toHaveLength(90);
    expect(agent.requests).toBe(3);
  });
});

describe('SNMPv3', () => {
  const credential = (
    protocol: (typeof users)[number]['authProtocol'],
    more: Partial<UserCredential> = {},
  ): UserCredential => ({
    name: 'v3',
    kind: 'snmp3',
    user: `olr-${protocol}`,
    auth: { protocol, password: 'lantern-quay-1' },
    priv: { protocol: 'AES-128', password: 'lantern-quay-2' },
    ...more,
  });
  test.each(users.map(({ authProtocol }) => authProtocol))('%s with AES-128', async (protocol) => {
    await standIn();
    expect([...(await reader(credential(protocol)).columns(entry, [1]))]).toHaveLength(rows);
  });
  test('the engine is discovered once, whoever asks', async () => {
    const agent = await standIn();
    await Promise.all([1, 2, 3].map(() => reader(credential('SHA-256')).get(['1.3.6.1.2.1.1.5.0'])));
    const first = agent.requests;
    await reader(credential('SHA-512')).get(['1.3.6.1.2.1.1.5.0']);
    expect(agent.requests - first).toBe(1);
  });
  test('wrong secrets are told apart', async () => {
    await standIn();
    const fault = (more: Partial<UserCredential>) =>
      faultOf(reader(credential('SHA-256', more)).get(['1.3.6.1.2.1.1.5.0']));
    expect(await fault({})).toBe('none');
    expect(await fault({ user: 'nobody' })).toMatch(/^unknown user/);
    expect(await fault({ auth: { protocol: 'SHA-256', password: 'not-the-password' } })).toMatch(/^wrong digest/);
    // with another key the text is noise, which is no element but by chance: not in one of many tries
    for (let attempt = 0; attempt < 60; attempt++)
      expect(await fault({ priv: { protocol: 'AES-128', password: `not-the-password-${attempt}` } })).toMatch(
        /^cannot decrypt/,
      );
    expect(await fault({ priv: undefined })).toMatch(/^wrong credential/);
  });
  test('one that drops silently what it cannot decrypt is not taken for nobody', async () => {
    await standIn((octets, count) => (count === 1 ? [{ octets }] : []));
    expect(await faultOf(reader(credential('SHA-256')).get(['1.3.6.1.2.1.1.5.0']))).toMatch(
      /^mute: the agent answers discovery/,
    );
  });
  test('one that falls silent after it was heard is silent', async () => {
    await standIn((octets, count) => (count <= 2 ? [{ octets }] : []));
    const source = reader(credential('SHA-256'));
    await source.get(['1.3.6.1.2.1.1.5.0']);
    expect(await faultOf(source.get(['1.3.6.1.2.1.1.5.0']))).toMatch(/^no answer/);
  });
  test('an agent whose clock will not be met says so, and the asking ends', async () => {
    const agent: { own?: DisturbedAgent } = {};
    agent.own = await standIn((octets) => {
      agent.own?.agent.reboot();
      return [{ octets }];
    });
    expect(await faultOf(reader(credential('SHA-256')).get(['1.3.6.1.2.1.1.5.0']))).toMatch(/^not in time window/);
  });
});

/** What somebody in the middle could send beside an answer: the same message number, a time far ahead, no signature (RFC 3414 section 3.2, usmStatsNotInTimeWindows). */
function unsignedTimeReport(answer: Buffer): Buffer {
  const number = answer.indexOf(Buffer.from('020103', 'hex')) + 5;
  const messageId = answer.subarray(number, number + 2 + (answer[number + 1] ?? 0));
  const engineId = Buffer.from('8000e6dd0301', 'hex');
  const integer = (value: number) => element(0x02, Buffer.from([value >> 16, (value >> 8) & 255, value & 255]));
  const nothing = element(0x04);
  const counter = element(
    0x30,
    element(0x06, Buffer.from('2b060106030f01010200', 'hex')),
    element(0x41, Buffer.from([1])),
  );
  const report = element(0xa8, integer(0), integer(0), integer(0), element(0x30, counter));
  return element(
    0x30,
    element(0x02, Buffer.from([3])),
    element(0x30, messageId, integer(65_507), element(0x04, Buffer.from([0])), element(0x02, Buffer.from([3]))),
    element(0x04, element(0x30, element(0x04, engineId), integer(9000), integer(4_000_000), nothing, nothing, nothing)),
    element(0x30, element(0x04, engineId), nothing, report),
  );
}

const genErr = 5;

describe('agents that bend the rules', () => {
  test('one that cuts a GET short is asked for the rest', async () => {
    const agent = await standIn((octets) => [{ octets: withVariables(octets, (all) => all.slice(0, 3)) }]);
    expect(await reader().get(Array.from({ length: 10 }, (_, at) => `${entry}.1.${at + 1}`))).toHaveLength(10);
    expect(agent.requests).toBe(4);
  });
  test('one that refuses a question for one object is asked without it', async () => {
    await standIn((octets) => {
      // the third of the first question is what it cannot tell
      const isFirst = countIn(octets) === 5;
      return [{ octets: isFirst ? withVariables(octets, () => [], [genErr, 3]) : octets }];
    });
    const found = await reader().get(Array.from({ length: 5 }, (_, at) => `${entry}.1.${at + 1}`));
    expect(found.map(({ oid }) => oid.split('.').at(-1))).toEqual(['1', '2', '4', '5']);
  });
  test('one that refuses without a word for which, is asked object by object; one that refuses all says so', async () => {
    const third = `${entry}.1.3`;
    const asked = Array.from({ length: 5 }, (_, at) => `${entry}.1.${at + 1}`);
    const isIn = (octets: Buffer, oid: string) => octets.includes(Buffer.from(oid.split('.').slice(2).map(Number)));
    const first = await standIn((octets) => [
      { octets: isIn(octets, third) ? withVariables(octets, () => [], [genErr, 0]) : octets },
    ]);
    expect((await reader().get(asked)).map(({ oid }) => oid.split('.').at(-1))).toEqual(['1', '2', '4', '5']);
    first.close();
    await standIn((octets) => [{ octets: withVariables(octets, () => [], [genErr, 0]) }]);
    expect(await faultOf(reader().get(asked))).toMatch(/genErr/);
  });
  test('one that fails at everything but one row of one column is read all the same', async () => {
    const agent = await standIn((octets) => [
      { octets: countIn(octets) > 1 ? withVariables(octets, () => [], [genErr, 0]) : octets },
    ]);
    expect([...(await reader().columns(entry, columns))]).toHaveLength(rows);
    expect(agent.requests).toBeGreaterThan(rows);
  });
  test('one that leaves a column and comes back to it has left rows out: the table is not whole', async () => {
    await standIn((octets) => [
      {
        octets: withVariables(octets, ([first, ...rest]) => {
          // a name far behind, in the midst of a column
          const away = element(0x30, element(0x06, Buffer.from('2b06010201630101', 'hex')), Buffer.from([2, 1, 1]));
          return [...(first ? [first] : []), away, ...rest];
        }),
      },
    ]);
    expect(await faultOf(reader().columns(entry, [1]))).toMatch(/^misbehaving: after .* went back/);
  });
});

const [getNext, getBulk] = [0xa1, 0xa5];

describe('agents that keep silent to what asks for much', () => {
  test('one that drops GETBULK is asked by GETNEXT', async () => {
    await standIn((octets, _, question) => (kindOf(question) === getBulk ? [] : [{ octets }]));
    expect(cellsOf(await reader().columns(entry, columns))).toHaveLength(rows + Math.ceil((rows * 6) / 7) + 40);
  });
  test('one that drops what names several objects is asked column by column, also where two parts find it out at once', async () => {
    const agent = await standIn((octets, _, question) => (countIn(question) > 1 ? [] : [{ octets }]));
    const source = reader();
    const found = await Promise.all([source.columns(entry, columns), source.columns(entry, [1, 3])]);
    expect(found.map((table) => [...table].length)).toEqual([rows, rows]);
    expect(agent.requests).toBeGreaterThan(rows);
  });
  test('one that answers nothing at all is given up after three attempts, once', async () => {
    const agent = await standIn(() => []);
    const source = reader();
    expect(await faultOf(source.columns(entry, columns))).toBe('no answer: no answer within the time limit');
    expect(await faultOf(source.columns(entry, columns))).toBe('no answer: no answer within the time limit');
    expect(agent.requests).toBe(5);
  });
  test('a question that was lost is asked once more as it was, and nothing is asked otherwise for it', async () => {
    const kinds: number[] = [];
    await standIn((octets, count, question) => {
      kinds.push(kindOf(question));
      return count === 1 ? [] : [{ octets }];
    });
    expect([...(await reader().columns(entry, columns))]).toHaveLength(rows);
    expect(new Set(kinds)).toEqual(new Set([getBulk]));
  });
  test('one that answered to less and then stops is given up like any other', async () => {
    let isThere = true;
    const agent = await standIn((octets, _, question) => (isThere && kindOf(question) !== getBulk ? [{ octets }] : []));
    const source = reader();
    expect([...(await source.columns(entry, columns))]).toHaveLength(rows);
    isThere = false;
    const before = agent.requests;
    expect(await faultOf(source.columns(entry, columns))).toBe('no answer: no answer within the time limit');
    expect(agent.requests - before).toBe(1);
  });
  test('whether it has a table is asked in smaller lots; what it drops alone is told', async () => {
    const foreign = '1.3.111.2.802.1.1';
    const isForeign = (octets: Buffer) => octets.subarray(0, 2).equals(Buffer.from([0x2b, 111]));
    await standIn((octets, _, question) =>
      countIn(question) > 20 || namesIn(question).some(isForeign) ? [] : [{ octets }],
    );
    const source = reader();
    const wanted = [entry, ...Array.from({ length: 24 }, (_, at) => `1.3.6.1.2.1.${200 + at}.1`), foreign];
    expect([...(await source.present(wanted))]).toEqual([entry]);
    expect([...source.unheard]).toEqual([foreign]);
  });
  test('the first question is put again narrower under the same number: an agent that drops it as a whole is heard', async () => {
    await standIn((octets, _, question) => (countIn(question) > 1 ? [] : [{ octets }]));
    const source = new LiveAgent(transport, { address, port, timeoutMs: 150, retries: 1 }, community);
    const name = '1.3.6.1.2.1.1.5.0';
    expect(await source.get([`${entry}.1.1`, name], [name])).toMatchObject([{ oid: name }]);
  });
  test('one that answers more variables than it was asked for is not believed', async () => {
    await standIn((octets, _, question) => [
      {
        octets:
          kindOf(question) === getNext || kindOf(question) === getBulk
            ? withVariables(octets, (all) => [
                ...all,
                element(0x30, element(0x06, Buffer.from('2b06010201630101', 'hex')), Buffer.from([2, 1, 1])),
              ])
            : octets,
      },
    ]);
    expect(await faultOf(reader().columns(entry, columns))).toMatch(/^misbehaving: the agent answered \d+ variables/);
  });
});

describe('a report of the time that nobody signed', () => {
  const v3: UserCredential = {
    name: 'v3',
    kind: 'snmp3',
    user: 'olr-SHA-256',
    auth: { protocol: 'SHA-256', password: 'lantern-quay-1' },
    priv: { protocol: 'AES-128', password: 'lantern-quay-2' },
  };
  test('moves no clock: the answer behind it counts, and the next question is asked in the time of the agent', async () => {
    const agent = await standIn((octets, count) =>
      count === 1 ? [{ octets }] : [{ octets: unsignedTimeReport(octets) }, { octets }],
    );
    const source = reader(v3);
    expect(await source.get(['1.3.6.1.2.1.1.5.0'])).toHaveLength(1);
    expect(await source.get(['1.3.6.1.2.1.1.5.0'])).toHaveLength(1);
    // discovery, and each question once
    expect(agent.requests).toBe(3);
  });
  test('alone, it is told for what it is', async () => {
    await standIn((octets, count) => [{ octets: count === 1 ? octets : unsignedTimeReport(octets) }]);
    expect(await faultOf(reader(v3).get(['1.3.6.1.2.1.1.5.0']))).toMatch(/^not in time window: .* does not sign it/);
  });
});

describe('the one socket', () => {
  test('a limit of packets a second is kept', async () => {
    const agent = await standIn();
    const slow = new UdpTransport({ packetsPerSecond: 100 });
    const asked = Promise.all(
      Array.from({ length: 30 }, () =>
        new LiveAgent(slow, { address, port, timeoutMs: 2000, retries: 0 }, community).get(['1.3.6.1.2.1.1.5.0']),
      ),
    );
    // two leave in each fiftieth of a second: the others wait for theirs
    expect(slow.packetsSent).toBe(2);
    expect(await asked).toHaveLength(30);
    expect([slow.packetsSent, agent.requests]).toEqual([30, 30]);
    slow.close();
  });
  test('closing ends what is under way', async () => {
    const other = new UdpTransport();
    const asked = faultOf(
      new LiveAgent(other, { address: '127.203.1.9', port, timeoutMs: 5000, retries: 3 }, community).get([
        '1.3.6.1.2.1.1.5.0',
      ]),
    );
    await new Promise((resolve) => setTimeout(resolve, 20));
    other.close();
    expect(await asked).toMatch(/^cancelled/);
    expect(
      await faultOf(
        new LiveAgent(other, { address, port, timeoutMs: 50, retries: 0 }, community).get(['1.3.6.1.2.1.1.5.0']),
      ),
    ).toMatch(/^cancelled/);
  });
});
