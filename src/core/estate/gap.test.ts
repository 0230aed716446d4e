import { expect, test } from '@jest/globals';
import { codeOfReason, remedyOfGap, stoppedWords, tooSlowWords } from './gap';

test.each([
  [stoppedWords, /longer time limit, or look at the load/],
  [tooSlowWords(2400), /longer time limit, or look at the load/],
  ['the agent answered with the error authorizationError', /access rules/],
  ['not asked: the survey was cancelled', /Run the survey again/],
  ['after 1.3.6.1.2.1.2.2.1.1.9 the agent went back to 1.3.6.1.2.1.2.2.1.1.1', /newer firmware/],
  ['the device gives no answer to what asks for 1.0.8802.1.1.2, and answers the rest', /newer firmware/],
])('what to do fits why: “%s”', (reason, remedy) => {
  expect(remedyOfGap({ code: codeOfReason(reason), reason })).toMatch(remedy);
});

test('an interface that changed is looked at', () => {
  expect(remedyOfGap({ code: 'changed', reason: 'field “serial” is missing' })).toMatch(/what changed on it/);
});
