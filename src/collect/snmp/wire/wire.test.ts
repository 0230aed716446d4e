import { describe, expect, test } from '@jest/globals';
import { createHmac } from 'node:crypto';
import fc from 'fast-check';
import { BerError, BerReader } from './berReader';
import { BerWriter } from './berWriter';
import { messageNumber, readCommunityMessage, writeCommunityMessage } from './communityMessage';
import { pduTag } from './pdu';
import { ForgedError, readUserMessage, writeDiscovery, writeUserMessage, type Engine } from './userMessage';
import { UserSecurity } from './userSecurity';
import type { UserCredential } from '../../../core/estate/credential';

const written = (act: (write: BerWriter) => void) => {
  const write = new BerWriter(4);
  act(write);
  return write.finish();
};
const hex = (act: (write: BerWriter) => void) => written(act).toString('hex');

test('a SetRequest carries each name with its value (RFC 3416 section 4.2.5)', () => {
  const octets = writeCommunityMessage(1, 'w', 5, {
    type: 'set',
    assignments: [
      { oid: '1.3.6.1.2.1.2.2.1.7.3', value: { type: 'integer', value: 2 } },
      { oid: '1.3.6.1.2.1.31.1.1.1.18.3', value: { type: 'octets', value: Buffer.from('hi') } },
    ],
  });
  expect(octets.toString('hex')).toBe(
    '3037020101040177a32f020105020100020100' +
      '3024300f060a2b060102010202010703020102' +
      '3011060b2b060102011f010101120304026869',
  );
});

describe('BER', () => {
  test.each([
    [0, '020100'],
    [127, '02017f'],
    [128, '02020080'],
    [-128, '020180'],
    [-129, '0202ff7f'],
    [2_147_483_647, '02047fffffff'],
    [-2_147_483_648, '020480000000'],
  ])('integer %i (X.690 8.3)', (value, expected) => {
    expect(hex((write) => write.integer(0x02, value))).toBe(expected);
    expect(new BerReader(Buffer.from(expected, 'hex')).integer()).toBe(value);
  });
  test.each([
    ['2.100.3', '0603813403'],
    ['1.3.6.1.2.1', '06052b06010201'],
    ['1.2.840.10006', '06052a8648ce16'],
    ['0.0', '060100'],
  ])('identifier %s (X.690 8.19)', (dotted, expected) => {
    expect(hex((write) => write.oid(dotted))).toBe(expected);
    expect(new BerReader(Buffer.from(expected, 'hex')).oid()).toBe(dotted);
  });
  test('unsigned values are read with and without their sign octet; 64 bits are 64 bits', () => {
    expect(new BerReader(Buffer.from('420500ffffffff', 'hex')).unsigned(0x42)).toBe(4_294_967_295);
    expect(new BerReader(Buffer.from('4204ffffffff', 'hex')).unsigned(0x42)).toBe(4_294_967_295);
    expect(new BerReader(Buffer.from('460900ffffffffffffffff', 'hex')).unsigned64(0x46)).toBe(2n ** 64n - 1n);
  });
  test('what was written is read, whatever its length', () => {
    fc.assert(
      fc.property(fc.array(fc.nat({ max: 4_294_967_295 }), { minLength: 1, maxLength: 20 }), (tail) => {
        const dotted = `1.3.${tail.join('.')}`;
        expect(new BerReader(written((write) => write.oid(dotted))).oid()).toBe(dotted);
      }),
    );
    fc.assert(
      fc.property(
        fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }),
        (value) => new BerReader(written((write) => write.integer(0x02, value))).integer() === value,
      ),
    );
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 70_000 }), (octets) =>
        new BerReader(written((write) => write.octetString(octets))).octetString().equals(Buffer.from(octets)),
      ),
      { numRuns: 40 },
    );
  });
  test.each(['', '30', '3005020100', '3080', '3084ffffffff', '30850000000001', '0681ff', '060181'])(
    '%s is refused',
    (octets) => {
      const read = new BerReader(Buffer.from(octets, 'hex'));
      expect(() => (octets.startsWith('06') ? read.oid() : read.inside(0x30).integer())).toThrow(BerError);
    },
  );
  test('an identifier of too many parts, or of too large ones, is refused', () => {
    expect(() => new BerReader(written((write) => write.oid(`1.3.${Array(130).fill('1').join('.')}`))).oid()).toThrow(
      'more than 128',
    );
    expect(() => new BerReader(Buffer.from('06062b9fffffff7f', 'hex')).oid()).toThrow('above 32 bits');
  });
});

describe('messages with a community', () => {
  test('the octets of a GET are those of the standard', () => {
    expect(writeCommunityMessage(1, 'public', 1, { type: 'get', oids: ['1.3.6.1.2.1.1.5.0'] }).toString('hex')).toBe(
      '302602010104067075626c6963a019020101020100020100300e300c06082b060102010105000500',
    );
  });
  test('GETBULK carries its repetitions where GET has its error index', () => {
    const octets = writeCommunityMessage(1, 'c', 7, { type: 'getBulk', oids: ['1.3.6'], repetitions: 25 });
    expect(octets.toString('hex')).toContain('a5' + '13' + '020107' + '020100' + '020119');
    expect(messageNumber(octets)).toBe(7);
  });
  test('an answer is read with every type and the three exceptions', () => {
    const values = [
      '02012a',
      '0403616263',
      '06032b0601',
      '40040a480402',
      '4104ffffffff',
      '42020100',
      '43020064',
      '4404deadbeef',
      '460100',
      '8000',
      '8100',
      '8200',
      '0500',
    ];
    const list = Buffer.concat(
      values.map((value) => sequence(Buffer.concat([Buffer.from('06022b06', 'hex'), Buffer.from(value, 'hex')]))),
    );
    const answer = sequence(
      Buffer.concat([
        Buffer.from('020101040163', 'hex'),
        tagged(0xa2, Buffer.concat([Buffer.from('020105020100020100', 'hex'), sequence(list)])),
      ]),
    );
    const { pdu } = readCommunityMessage(answer);
    expect(
      pdu.variables.map(({ value }) =>
        value === null
          ? null
          : [value.type, value.value instanceof Uint8Array ? Buffer.from(value.value).toString('hex') : value.value],
      ),
    ).toEqual([
      ['integer', 42],
      ['octets', '616263'],
      ['oid', '1.3.6.1'],
      ['ipAddress', '10.72.4.2'],
      ['counter32', 4_294_967_295],
      ['gauge32', 256],
      ['timeticks', 100],
      ['opaque', 'deadbeef'],
      ['counter64', 0n],
      null,
      null,
      null,
      null,
    ]);
    expect(pdu.variables.map(({ end }) => end)).toEqual([...Array<boolean>(11).fill(false), true, false]);
  });
});
const tagged = (tag: number, body: Buffer) =>
  written((write) => {
    write.bytes(body);
    write.head(tag, 0);
  });
const sequence = (body: Buffer) => tagged(0x30, body);

const user = (more: Partial<UserCredential> = {}): UserCredential => ({
  name: 'v3',
  kind: 'snmp3',
  user: 'olr',
  auth: { protocol: 'SHA-256', password: 'lantern-quay-1' },
  priv: { protocol: 'AES-128', password: 'lantern-quay-2' },
  ...more,
});
const engine: Engine = { id: Buffer.from('8000e6dd03024b45000001', 'hex'), boots: 3, time: 500, readAt: 0 };

describe('the user-based security model', () => {
  test('the localised key is that of RFC 3414 A.3.2', () => {
    const security = new UserSecurity(
      user({ auth: { protocol: 'SHA-1', password: 'maplesyrup' } }),
      Buffer.from('000000000000000000000002', 'hex'),
    );
    const key = Buffer.from('6695febc9288e36282235fc7151f128497b38f3f', 'hex');
    expect(security.mac(Buffer.from('m'))).toEqual(createHmac('sha1', key).update('m').digest().subarray(0, 12));
  });
  test.each([
    ['none', { auth: undefined, priv: undefined }, 4],
    ['SHA-1 alone', { auth: { protocol: 'SHA-1', password: 'lantern-quay-1' }, priv: undefined }, 5],
    [
      'SHA-224 with AES-256',
      {
        auth: { protocol: 'SHA-224', password: 'lantern-quay-1' },
        priv: { protocol: 'AES-256', password: 'lantern-quay-2' },
      },
      7,
    ],
    [
      'SHA-384 with AES-256',
      {
        auth: { protocol: 'SHA-384', password: 'lantern-quay-1' },
        priv: { protocol: 'AES-256', password: 'lantern-quay-2' },
      },
      7,
    ],
    [
      'SHA-512 with AES-128',
      {
        auth: { protocol: 'SHA-512', password: 'lantern-quay-1' },
        priv: { protocol: 'AES-128', password: 'lantern-quay-2' },
      },
      7,
    ],
  ] as [string, Partial<UserCredential>, number][])(
    '%s: one side reads what the other wrote, with the flags of its level',
    (_, change, flags) => {
      const credential = user(change);
      const security = new UserSecurity(credential, engine.id);
      const octets = writeUserMessage(9, engine, 2500, 'olr', '', security, {
        type: 'get',
        oids: ['1.3.6.1.2.1.1.5.0'],
      });
      // a question is no answer, but all around it is read; its tag is where reading ends
      expect(() => readUserMessage(octets, () => security)).toThrow('no response');
      expect(messageNumber(octets)).toBe(9);
      const header = new BerReader(octets).inside(0x30);
      header.integer();
      const global = header.inside(0x30);
      global.integer();
      global.integer();
      expect(global.octetString()[0]).toBe(flags);
      if (security.flags & 2) expect(octets.includes(Buffer.from('2b060102010105', 'hex'))).toBe(false);
    },
  );
  test('one changed octet, another engine or another password, and the signature does not fit', () => {
    const security = new UserSecurity(user(), engine.id);
    const octets = writeUserMessage(9, engine, 0, 'olr', '', security, { type: 'get', oids: ['1.3.6'] });
    const changed = Buffer.from(octets);
    changed[changed.length - 3] = (changed.at(-3) ?? 0) ^ 1;
    expect(() => readUserMessage(changed, () => security)).toThrow(ForgedError);
    expect(() => readUserMessage(octets, () => new UserSecurity(user(), Buffer.from('80000001', 'hex')))).toThrow(
      ForgedError,
    );
    expect(() => readUserMessage(octets, () => null)).toThrow('not known yet');
  });
  test('what is encrypted twice is never twice the same, and opens with boots and time alone', () => {
    const security = new UserSecurity(user(), engine.id);
    const plain = Buffer.from('Signal House, equipment room');
    const [one, two] = [security.encrypt(plain, 3, 500), security.encrypt(plain, 3, 500)];
    expect(one.cipherText.equals(two.cipherText)).toBe(false);
    expect(security.decrypt(one.cipherText, 3, 500, one.salt)).toEqual(plain);
    expect(security.decrypt(one.cipherText, 3, 501, one.salt)).not.toEqual(plain);
  });
  test('the time that a message carries is the engine’s, gone on since it was read', () => {
    const security = new UserSecurity(user({ auth: undefined, priv: undefined }), engine.id);
    const octets = writeUserMessage(9, engine, 12_900, 'olr', '', security, { type: 'get', oids: [] });
    expect(octets.includes(Buffer.from('020103' + '02020200', 'hex'))).toBe(true);
  });
  test('discovery names no engine and no user, and may be reported on', () => {
    expect(writeDiscovery(5).toString('hex')).toContain('0410300e0400020100020100040004000400');
  });
});

test('whatever octets arrive, reading them ends in an answer or a BerError', () => {
  const security = new UserSecurity(user(), engine.id);
  const samples = [
    writeCommunityMessage(1, 'c', 1, { type: 'get', oids: ['1.3.6.1.2.1.1.5.0'] }),
    writeUserMessage(9, engine, 0, 'olr', '', security, { type: 'get', oids: ['1.3.6'] }),
    writeDiscovery(3),
  ];
  const nearly = fc
    .tuple(
      fc.constantFrom(...samples),
      fc.array(fc.tuple(fc.nat({ max: 200 }), fc.nat({ max: 255 })), { maxLength: 6 }),
      fc.nat({ max: 200 }),
    )
    .map(([sample, changes, length]) => {
      const octets = Buffer.from(sample);
      octets[octets.indexOf(0xa0)] = pduTag.response;
      for (const [at, value] of changes) if (at < octets.length) octets[at] = value;
      return octets.subarray(0, Math.max(1, octets.length - (length > 150 ? length - 150 : 0)));
    });
  fc.assert(
    fc.property(
      fc.oneof(
        fc.uint8Array({ maxLength: 300 }).map((octets) => Buffer.from(octets)),
        nearly,
      ),
      (octets) => {
        expect(() => messageNumber(octets)).not.toThrow();
        for (const read of [() => readCommunityMessage(octets), () => readUserMessage(octets, () => security)]) {
          try {
            read();
          } catch (error) {
            expect(error).toBeInstanceOf(BerError);
          }
        }
      },
    ),
    { numRuns: 3000 },
  );
});
