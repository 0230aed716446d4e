import { describe, expect, test } from '@jest/globals';
import { createDecipheriv, createHmac } from 'node:crypto';
import { UserKeys, type AgentUser } from './usm';

const user = (more: Partial<AgentUser> = {}): AgentUser => ({
  name: 'olr',
  authProtocol: 'SHA-1',
  authPassword: 'maplesyrup',
  privProtocol: 'AES-128',
  privPassword: 'maplesyrup',
  ...more,
});
const engineId = Buffer.from('000000000000000000000002', 'hex');
/** RFC 3414 A.3.2: the password of the example, localised to its engine */
const localised = Buffer.from('6695febc9288e36282235fc7151f128497b38f3f', 'hex');

describe('the agent’s side of USM', () => {
  test('the localised key is the one RFC 3414 computes for its example', () => {
    const message = Buffer.from('any message');
    expect(new UserKeys(user(), engineId).mac(message)).toEqual(
      createHmac('sha1', localised).update(message).digest().subarray(0, 12),
    );
  });
  test('AES-128 takes its vector from boots, time and salt (RFC 3826 3.1.2.1)', () => {
    const plain = Buffer.from('a scoped PDU of some length');
    const { cipher, salt } = new UserKeys(user(), engineId).encrypt(plain, 3, 70_000);
    const vector = Buffer.concat([Buffer.from('0000000300011170', 'hex'), salt]);
    const aes = createDecipheriv('aes-128-cfb', localised.subarray(0, 16), vector);
    expect(Buffer.concat([aes.update(cipher), aes.final()])).toEqual(plain);
  });
  test.each([
    ['SHA-1', 12],
    ['SHA-224', 16],
    ['SHA-256', 24],
    ['SHA-384', 32],
    ['SHA-512', 48],
  ] as const)('%s gives %i octets (RFC 7860)', (authProtocol, length) => {
    const keys = new UserKeys(user({ authProtocol }), engineId);
    expect([keys.macLength, keys.mac(Buffer.from('m')).length]).toEqual([length, length]);
  });
  test('what was encrypted is read back, and never twice the same', () => {
    const keys = new UserKeys(user(), engineId);
    const plain = Buffer.from('Signal House');
    const [one, two] = [keys.encrypt(plain, 1, 5), keys.encrypt(plain, 1, 5)];
    expect(one.cipher.equals(two.cipher)).toBe(false);
    expect(keys.decrypt(one.cipher, 1, 5, one.salt)).toEqual(plain);
    expect(keys.decrypt(one.cipher, 1, 6, one.salt)).not.toEqual(plain);
  });
  test('two engines have two keys for one password', () => {
    const other = new UserKeys(user(), Buffer.from('8000e6dd0301', 'hex'));
    expect(other.mac(Buffer.from('m'))).not.toEqual(new UserKeys(user(), engineId).mac(Buffer.from('m')));
  });
});
