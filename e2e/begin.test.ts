// covers: src/ui/begin src/ui/entry
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Browser, Page } from 'puppeteer-core';
import { MailStand } from '../src/sim/mail/mailStand';
import { startApplication, type Application } from './support/application';
import { accessibilityProblems, click, fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { freePort, sampleCredentials, startAgents, stopAll } from './support/program';

/** From nothing to a true list, on the one page that leads there, left and come back to on the way. Each test goes on where the one before ended. */
let app: Application;
let agents: Awaited<ReturnType<typeof startAgents>>;
let browser: Browser;
let page: Page;
let errors: string[];
const mail = new MailStand({
  login: { user: 'bolide', password: 'harbour-bell' },
  unknown: ['nobody@ostermere.example'],
});
let mailPort: number;
const open = (where: string) => openWhole(page, `${app.address}${where}`);

beforeAll(async () => {
  [app, agents, browser, mailPort] = await Promise.all([
    startApplication(),
    startAgents(8),
    launchBrowser(),
    mail.listen(),
  ]);
  ({ page, errors } = await openPage(browser));
});
afterAll(async () => {
  await browser?.close();
  await mail.close();
  await stopAll();
});

test('the administrator is made, and comes to the page of first steps', async () => {
  await open('/');
  await fill(page, 'input[name=name]', 'marla');
  await fill(page, 'input[name=password]', 'ostermere-lights');
  await fill(page, 'input[name=confirmation]', 'ostermere-lights');
  await press(page, 'Make the administrator');
  await see(page, 'Setting up');
  await see(page, 'step 2 of 5');
  expect(await accessibilityProblems(page)).toEqual([]);
});

test('mail: mistakes at their fields, a server that does not answer told with what to do, then a test message that arrives', async () => {
  await press(page, 'Save the mail server');
  await see(page, 'Give the server’s name or address');
  await fill(page, 'input[name=mailHost]', '127.0.0.1');
  await click(page, '[role=combobox]');
  await press(page, 'none: in the clear');
  await page.waitForSelector('[role=option]', { hidden: true });
  await fill(page, 'input[name=mailPort]', String(await freePort()));
  await fill(page, 'input[name=mailFrom]', 'bolide@ostermere.example');
  await press(page, 'Save the mail server');
  await see(page, 'step 3 of 5');
  await press(page, 'Change or test');
  await fill(page, 'input[name=mailTo]', 'marla@ostermere.example');
  await press(page, 'Send a test message');
  await see(page, 'Nobody takes mail on 127.0.0.1 port');
  await fill(page, 'input[name=mailPort]', String(mailPort));
  await fill(page, 'input[name=mailUser]', 'bolide');
  await fill(page, 'input[name=mailPassword]', 'harbour-bell');
  await press(page, 'Save the mail server');
  await see(page, 'one is kept');
  await fill(page, 'input[name=mailTo]', 'nobody@ostermere.example');
  await press(page, 'Send a test message');
  await see(page, 'nobody has that address');
  await fill(page, 'input[name=mailTo]', 'marla@ostermere.example');
  await press(page, 'Send a test message');
  await see(page, 'The server took it');
  expect(mail.taken.map(({ from, to }) => [from, to])).toEqual([
    ['bolide@ostermere.example', ['marla@ostermere.example']],
  ]);
  expect(mail.taken[0]?.text).toContain('sent by marla');
  // the password is told to nobody
  expect(await page.evaluate(async () => (await fetch('/api/v1/mail')).text())).not.toContain('harbour-bell');
});

test('what is saved stays when one leaves and comes back; the survey ends on the true list', async () => {
  await open('/today');
  await press(page, 'Set up the first survey');
  await see(page, 'step 3 of 5');
  const [v3] = sampleCredentials;
  await press(page, 'Add a credential');
  await fill(page, 'input[name=name]', 'core v3');
  await fill(page, 'input[name=user]', v3?.user ?? '');
  await fill(page, 'input[name="auth.password"]', v3?.auth?.password ?? '');
  await fill(page, 'input[name="priv.password"]', v3?.priv?.password ?? '');
  await press(page, 'Save the credential');
  await see(page, 'step 4 of 5');
  await open('/begin');
  await see(page, 'step 4 of 5');
  await press(page, 'Add a scope');
  await fill(page, 'input[name=name]', 'Signal House');
  await fill(page, 'textarea[name=ranges]', '10.72.0.0/29');
  await press(page, 'How it is reached: as usual');
  await fill(page, 'textarea[name=translations]', `10.72.0.0/16 via ${agents.base}/16 port ${agents.port}`);
  await press(page, 'Save the scope');
  await see(page, 'step 5 of 5');
  await press(page, 'Run the first survey');
  await page.waitForFunction(() => location.pathname === '/estate', { timeout: 60_000 });
  await see(page, 'sgh-core-1');
  await open('/begin');
  await see(page, /Setting up\s+done/);
  await see(page, /\d+ devices found/);
  expect(await accessibilityProblems(page)).toEqual([]);
  // the server that was not there, and the recipient nobody knows, were told by the application as a bad gateway
  expect(errors.filter((words) => !words.includes('502'))).toEqual([]);
});

test('every act of it is in the list of what was done', async () => {
  await open('/settings/acts');
  await see(page, 'What was done');
  await page.waitForSelector('table[aria-label="What was done"]');
  const acts = await page.$$eval('table[aria-label="What was done"] tbody tr', (rows) =>
    rows.map((row) => row.querySelectorAll('td')[2]?.textContent),
  );
  for (const act of ['set up as administrator', 'set the mail server', 'sent a test message'])
    expect(acts).toContain(act);
  await page.type('input[aria-label="Acts that hold"]', 'mail test');
  await page.waitForFunction(
    () =>
      document.querySelectorAll('table[aria-label="What was done"] tbody tr').length === 0 ||
      [...document.querySelectorAll('table[aria-label="What was done"] tbody tr')].every((row) =>
        /mail|test/.test(row.textContent ?? ''),
      ),
  );
});
