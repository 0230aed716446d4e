import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { checks, counts, exportsOfTables, filters, moments } from './day/asking';
import { catalogue, sending, takingBack, unsavedWork } from './day/writing';
import { handling } from './day/handling';
import { going } from './day/going';
import { network } from './day/network';
import { surveys, theLine } from './day/waiting';
import { beginDay, endDay, errors } from './day/theDay';

beforeAll(beginDay);
afterAll(endDay);

filters();
counts();
checks();
moments();
sending();
takingBack();
exportsOfTables();
handling();
going();
network();
catalogue();
surveys();
unsavedWork();
theLine();

test('nothing was logged as an error all day', () =>
  expect(errors.filter((error) => !/ERR_(INTERNET_DISCONNECTED|CONNECTION_RESET)/.test(error))).toEqual([]));
