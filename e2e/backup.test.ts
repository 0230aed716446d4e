// covers: src/store/backups src/cli/commands/backup src/server/backup src/collect/jobs/backupJob src/core/backup
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import Database from 'better-sqlite3';
import type { Browser, Page } from 'puppeteer-core';
import type { Credential } from '../src/core/estate/credential';
import { openStore } from '../src/store/base/database';
import { openCredentials, saveCredential } from '../src/store/credentials';
import { queueJob, readJob } from '../src/store/jobs';
import { addPerson } from '../src/store/people';
import { addToken } from '../src/store/tokens';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { bolide, sampleCredentials, stopAll, temporaryFolder } from './support/program';

/** The data are copied while they are used, and a copy takes their place while they are served. */
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
let token: string;
const folder = temporaryFolder();
const file = (name: string) => path.join(folder, name);

const call = async <Answer>(
  where: string,
  body?: unknown,
  method = body === undefined ? 'GET' : 'POST',
): Promise<Answer> => {
  const response = await fetch(`${app.address}/api/v1/${where}`, {
    method,
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  if (!response.ok) throw new Error(`${where}: ${response.status} ${await response.text()}`);
  return (await response.json()) as Answer;
};
const groups = async () => (await call<{ rows: { name: string }[] }>('groups')).rows.map(({ name }) => name);
const group = (name: string) => call('groups', { thing: 'devices', kind: 'filter', name, where: 'role=switch' });
const cli = (...args: string[]) => bolide(args);

beforeAll(async () => {
  const data = temporaryFolder();
  const store = openStore(data);
  token = addToken(store.db, { name: 'test', role: 'administrator' });
  for (const credential of sampleCredentials) saveCredential(store, credential as Credential);
  await addPerson(store.db, 'marla', 'ostermere-lights', 'administrator');
  store.close();
  [app, browser] = await Promise.all([startApplication(data), launchBrowser()]);
  ({ page, errors } = await openPage(browser));
});
afterAll(async () => {
  await browser?.close();
  await stopAll();
});

describe('on the command line', () => {
  test('a copy is made while others write, is one file for its owner alone, and is never written over', async () => {
    await group('before');
    let writes = 0;
    let copying = true;
    const writing = (async () => {
      while (copying) await group(`meanwhile ${writes++}`);
    })();
    const made = await cli('backup', file('copy.sqlite'), '--data', app.data, '--key', file('key'));
    copying = false;
    await writing;
    expect([made.code, made.err]).toEqual([0, expect.stringContaining('looked at and whole')]);
    expect(writes).toBeGreaterThan(0);
    for (const name of ['copy.sqlite', 'key']) expect(statSync(file(name)).mode & 0o777).toBe(0o600);
    expect(readdirSync(folder).filter((name) => /part|wal|shm/.test(name))).toEqual([]);
    const again = await cli('backup', file('copy.sqlite'), '--data', app.data);
    expect([again.code, again.err]).toEqual([2, expect.stringContaining('is there already')]);
  });

  test('what is none, is damaged, or is of a newer program is refused, and changes nothing', async () => {
    writeFileSync(file('none'), 'nothing of ours');
    copyFileSync(file('copy.sqlite'), file('damaged.sqlite'));
    truncateSync(file('damaged.sqlite'), statSync(file('damaged.sqlite')).size - 8192);
    copyFileSync(file('copy.sqlite'), file('newer.sqlite'));
    const raw = new Database(file('newer.sqlite'));
    raw.exec("insert into __drizzle_migrations (hash, created_at) values ('x', 99999999999999)");
    raw.close();
    for (const [name, words] of [
      ['none', 'is no copy of data of Bolide'],
      ['damaged.sqlite', /damaged|no copy/],
      ['newer.sqlite', 'was made by a newer program'],
      ['missing.sqlite', 'cannot be opened'],
    ] as const) {
      const { code, err } = await cli('restore', file(name), '--data', app.data);
      expect([name, code]).toEqual([name, 2]);
      expect(err).toMatch(words);
    }
    // and an older program does not touch what a newer one wrote
    const elsewhere = file('newer');
    mkdirSync(elsewhere);
    copyFileSync(file('newer.sqlite'), path.join(elsewhere, 'bolide.sqlite'));
    const { code, err } = await cli('serve', '--data', elsewhere, '--port', '4999');
    expect([code, err]).toEqual([1, expect.stringContaining('was written by a newer program')]);
  });

  test('a copy takes the place of the data while they are served; what there was is kept, and what was queued then is done by nobody', async () => {
    const queued = new Database(file('copy.sqlite'));
    queued.exec(
      `insert into job (kind, body, state, created_at) values ('backup', '{}', 'queued', '2026-11-23T06:00:00Z')`,
    );
    const { id } = queued.prepare('select max(id) as id from job').get() as { id: number };
    queued.close();
    await group('after');
    const restored = await cli('restore', file('copy.sqlite'), '--data', app.data);
    expect([restored.code, restored.err]).toEqual([0, expect.stringContaining('what serves it goes on with it')]);
    for (let attempt = 0; attempt < 100; attempt++) {
      if (await call('groups').catch(() => null)) break;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    const names = await groups();
    expect([names.includes('before'), names.includes('after')]).toEqual([true, false]);
    expect(readdirSync(app.data).some((name) => name.startsWith('before-restore-'))).toBe(true);
    expect(existsSync(path.join(app.data, 'restore.sqlite'))).toBe(false);
    const store = openStore(app.data);
    for (let attempt = 0; attempt < 100 && readJob(store.db, id)?.state === 'running'; attempt++)
      await new Promise((resolve) => setTimeout(resolve, 100));
    expect(readJob(store.db, id)).toMatchObject({
      state: 'failed',
      error: 'It was under way when the backup was made that was restored since.',
    });
    store.close();
  });

  test('a copy that cannot be taken leaves what there was, and is told to whoever wanted it', async () => {
    // whole as a file, and of a structure that breaks while it is brought up to date
    copyFileSync(file('copy.sqlite'), file('broken.sqlite'));
    const raw = new Database(file('broken.sqlite'));
    raw.exec(
      'drop table session; delete from __drizzle_migrations where created_at = (select max(created_at) from __drizzle_migrations)',
    );
    raw.close();
    const before = await groups();
    const { code, err } = await cli('restore', file('broken.sqlite'), '--data', app.data);
    expect([code, err]).toEqual([1, expect.stringContaining('It was not restored, and what there was stays')]);
    let after: string[] = [];
    for (let attempt = 0; attempt < 100 && after.length === 0; attempt++) {
      after = await groups().catch(() => []);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    expect(after).toEqual(before);
  });

  test('on another machine it opens with its key, and says what is missing without', async () => {
    const [bare, whole] = [file('bare'), file('whole')];
    const without = await cli('restore', file('copy.sqlite'), '--data', bare);
    expect([without.code, without.err]).toEqual([0, expect.stringContaining('stored secrets are sealed under')]);
    expect((await cli('serve', '--data', bare, '--port', '4998')).err).toContain('Put the right file back there');
    expect((await cli('restore', file('copy.sqlite'), '--data', whole, '--key', file('key'))).code).toBe(0);
    const store = openStore(whole);
    expect(openCredentials(store, ['read-only'])).toMatchObject([{ community: 'olr-readonly' }]);
    store.close();
  });

  test('keys are changed while the data are served, and secrets open as before', async () => {
    const before = readFileSync(path.join(app.data, 'key'), 'utf8');
    const { code, err } = await cli('key', 'rotate', '--data', app.data);
    expect([code, err]).toEqual([0, expect.stringContaining('2 secrets sealed under a new key')]);
    expect(readFileSync(path.join(app.data, 'key'), 'utf8')).not.toBe(before);
    const store = openStore(app.data);
    expect(openCredentials(store, ['read-only'])).toMatchObject([{ community: 'olr-readonly' }]);
    store.close();
  });
});

test('in Settings one sees which copies there are, makes one, and says when they are made', async () => {
  await openWhole(page, `${app.address}/login?to=/settings/backups`);
  await fill(page, 'input[name=name]', 'marla');
  await fill(page, 'input[name=password]', 'ostermere-lights');
  await press(page, 'Sign in');
  await see(page, 'There is no copy yet.');
  await press(page, 'Copy the data now');
  await see(page, /bolide-\d{4}-\d\d-\d\dT\d{6}\.sqlite/);
  expect(await accessibilityProblems(page)).toEqual([]);
  await fill(page, 'input[name=backupAt]', '25:00');
  await press(page, 'Keep this');
  await see(page, 'Write the time like 03:30');
  await fill(page, 'input[name=backupAt]', '02:15');
  await fill(page, 'input[name=backupKeep]', '1');
  await press(page, 'Keep this');
  await see(page, 'Kept.');
  await press(page, 'Copy the data now');
  const store = openStore(app.data);
  for (let attempt = 0; attempt < 200; attempt++) {
    const { plan, last } = await call<{ plan: { at: string }; last: { state: string } }>('backups');
    expect(plan.at).toBe('02:15');
    if (last.state === 'done') break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  // the older one went
  expect(readdirSync(path.join(app.data, 'backups'))).toHaveLength(1);
  // a copy that cannot be made is told where one looks for it
  rmSync(path.join(app.data, 'backups'), { recursive: true });
  writeFileSync(path.join(app.data, 'backups'), 'in the way');
  queueJob(store.db, 'backup', {});
  store.close();
  await openWhole(page, `${app.address}/settings/backups`);
  await see(page, 'The last copy failed');
  expect(errors).toEqual([]);
});
