import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { openStore, type Store } from './base/database';
import { addPerson, changePassword, changePerson, givePassword, listPeople, signIn } from './people';
import { beginSession, endSession, endSessions, forgetSessions, sessionOwner, sessionsOf } from './sessions';
import { isUsual } from './usualPasswords';

let folder: string;
let store: Store;
let marla: number;
let osric: number;
const password = 'ostermere-lights';
const at = (text: string) => new Date(text);
const start = at('2026-11-23T06:00:00Z');
const later = (hours: number) => new Date(start.getTime() + hours * 3_600_000);

beforeEach(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-people-'));
  store = openStore(folder);
  marla = (await addPerson(store.db, 'marla', password, 'administrator')).id;
  osric = (await addPerson(store.db, 'osric', password, 'operator')).id;
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('a session', () => {
  const owner = (secret: string, when: Date, attended = true) => sessionOwner(store.db, secret, attended, when);

  test('goes on while somebody is at it, and ends after twelve hours without', () => {
    const secret = beginSession(store.db, marla, '10.72.9.1', start);
    for (const hours of [6, 12, 20, 30]) expect(owner(secret, later(hours))?.person.name).toBe('marla');
    expect(owner(secret, later(42.2))).toBeNull();
  });
  test('ends after seven days, however much one is at it', () => {
    const secret = beginSession(store.db, marla, '', start);
    for (let hours = 0; hours < 168; hours += 6) expect(owner(secret, later(hours))).not.toBeNull();
    expect(owner(secret, later(168))).toBeNull();
  });
  test('is not kept alive by a page that asks by itself', () => {
    const secret = beginSession(store.db, marla, '', start);
    for (let hours = 0; hours < 12; hours += 1) expect(owner(secret, later(hours), false)).not.toBeNull();
    expect(owner(secret, later(12.2), false)).toBeNull();
  });
  test('is listed with its place, and ended alone or with all others', () => {
    const [first, second] = ['10.72.9.1', '10.72.9.2'].map((from, hours) =>
      beginSession(store.db, marla, from, later(hours)),
    );
    const elsewhere = beginSession(store.db, osric, '10.72.9.3', start);
    const listed = sessionsOf(store.db, marla, later(2));
    expect(listed.map(({ source }) => source)).toEqual(['10.72.9.2', '10.72.9.1']);
    const [{ id = 0 } = {}] = listed;
    // nobody ends another's
    expect(endSession(store.db, osric, id)).toBe(false);
    expect(endSession(store.db, marla, id)).toBe(true);
    expect([owner(first ?? '', later(2))?.person.name, owner(second ?? '', later(2))]).toEqual(['marla', null]);
    expect(endSessions(store.db, marla)).toBe(1);
    expect(owner(first ?? '', later(2))).toBeNull();
    expect(owner(elsewhere, later(2))?.person.name).toBe('osric');
  });
  test('is nowhere kept in words that open it, and forgotten when it is over', () => {
    const secret = beginSession(store.db, marla, '', start);
    expect(JSON.stringify(store.raw.prepare('select * from session').all())).not.toContain(secret);
    forgetSessions(store.db, later(1));
    expect(sessionsOf(store.db, marla, later(1))).toHaveLength(1);
    forgetSessions(store.db, later(13));
    expect(store.raw.prepare('select count(*) as n from session').get()).toEqual({ n: 0 });
  });
});

describe('a person', () => {
  test('who may not sign in is signed in nowhere, and cannot sign in with the right password', async () => {
    const secret = beginSession(store.db, osric, '');
    changePerson(store.db, osric, { disabled: true });
    expect([sessionOwner(store.db, secret, true), await signIn(store.db, 'osric', password)]).toEqual([null, null]);
    changePerson(store.db, osric, { disabled: false });
    expect(sessionOwner(store.db, secret, true)).toBeNull();
    expect((await signIn(store.db, 'osric', password))?.person.name).toBe('osric');
  });
  test('who gets another role signs in anew; one who is renamed does not', () => {
    const secret = beginSession(store.db, osric, '');
    changePerson(store.db, osric, { name: 'osric the younger' });
    expect(sessionOwner(store.db, secret, true)?.person.name).toBe('osric the younger');
    changePerson(store.db, osric, { role: 'viewer' });
    expect(sessionOwner(store.db, secret, true)).toBeNull();
  });
  test('who is the last administrator can neither go nor become less', () => {
    for (const change of [{ disabled: true }, { role: 'operator' as const }])
      expect(() => changePerson(store.db, marla, change)).toThrow('marla is the last administrator');
    changePerson(store.db, osric, { role: 'administrator', disabled: true });
    // one who may not sign in is none
    expect(() => changePerson(store.db, marla, { role: 'viewer' })).toThrow('the last administrator');
    changePerson(store.db, osric, { disabled: false });
    changePerson(store.db, marla, { disabled: true });
    expect(() => changePerson(store.db, osric, { role: 'viewer' })).toThrow('osric is the last administrator');
  });
  test('has no name that another has', () => {
    expect(() => changePerson(store.db, osric, { name: 'marla' })).toThrow('There is a person “marla” already');
    expect(changePerson(store.db, 4711, { name: 'nobody' })).toBeNull();
    expect(listPeople(store.db).map(({ name }) => name)).toEqual(['marla', 'osric']);
  });
  test('who changes the password is signed out everywhere else', async () => {
    const [here, there] = [beginSession(store.db, osric, 'here'), beginSession(store.db, osric, 'there')];
    const sessionId = sessionOwner(store.db, here, true)?.sessionId ?? 0;
    const change = { id: osric, sessionId, before: 'wrong', after: 'harbour-lantern-7' };
    expect(await changePassword(store.db, change)).toBe(false);
    expect(sessionOwner(store.db, there, true)).not.toBeNull();
    expect(await changePassword(store.db, { ...change, before: password })).toBe(true);
    expect([sessionOwner(store.db, here, true)?.person.name, sessionOwner(store.db, there, true)]).toEqual([
      'osric',
      null,
    ]);
  });
  test('who is given a password chooses another', async () => {
    const secret = beginSession(store.db, osric, '');
    await givePassword(store.db, osric, 'abcd-efgh-2345', true);
    expect(sessionOwner(store.db, secret, true)).toBeNull();
    expect(await signIn(store.db, 'osric', 'abcd-efgh-2345')).toMatchObject({ mustChange: true });
    await changePassword(store.db, { id: osric, sessionId: null, before: 'abcd-efgh-2345', after: password });
    expect(await signIn(store.db, 'osric', password)).toMatchObject({ mustChange: false });
  });
});

test('the passwords that are tried first are none, however they are dressed up', async () => {
  for (const usual of ['password123', 'Qwertyuiop', '1234567890', 'Sunshine2026!', 'p.a.s.s.w.o.r.d.1', '!!dragon99'])
    expect([usual, await isUsual(usual)]).toEqual([usual, true]);
  for (const good of ['ostermere-lights', 'signal-lantern-71', 'four plain words here'])
    expect([good, await isUsual(good)]).toEqual([good, false]);
});
