import { describe, expect, test } from '@jest/globals';
import type { SourceFault } from '../source';
import { outcomeOf } from './outcome';

const fault = (name: SourceFault, credential = 'core', message = 'm') => ({ credential, fault: name, message });
const all: SourceFault[] = [
  'no answer',
  'wrong credential',
  'unknown user',
  'wrong digest',
  'not in time window',
  'cannot decrypt',
  'mute',
  'misbehaving',
  'unreachable',
  'cancelled',
  'failed',
];

describe('what came of an address', () => {
  test.each(all)('“%s” has a reason and something to do about it', (name) => {
    const { outcome, reason, remedy } = outcomeOf([fault(name)]);
    expect(['silent', 'refused', 'failed']).toContain(outcome);
    expect([reason.length > 0, remedy.endsWith('.')]).toEqual([true, true]);
  });
  test('silence of one credential says nothing where another was heard, in whatever order', () => {
    const heard = [fault('no answer', 'read-only'), fault('unknown user', 'core v3')];
    for (const faults of [heard, [...heard].reverse()])
      expect(outcomeOf(faults)).toMatchObject({
        outcome: 'refused',
        reason: 'speaks SNMPv3, but does not know the user of “core v3”',
      });
  });
  test('the credential that came nearest is the one told: a known user before an unknown one', () => {
    expect(outcomeOf([fault('unknown user', 'a'), fault('wrong digest', 'b')]).reason).toContain('“b”');
    expect(outcomeOf([fault('wrong digest', 'b'), fault('cannot decrypt', 'c')]).reason).toContain('“c”');
  });
  test('only silence is silence', () => {
    expect(all.filter((name) => outcomeOf([fault(name)]).outcome === 'silent')).toEqual(['no answer']);
    expect(outcomeOf([])).toMatchObject({ outcome: 'failed', remedy: 'Add a credential to the scope.' });
  });
});
