// covers: src/ui/survey src/server/survey src/server/captures src/collect/captures
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { controllerOf, sampleHardwareUser } from '../src/sim/ostermere/controllers';
import { ostermere } from '../src/sim/ostermere/estate';
import { ManagementController } from '../src/sim/redfish/controller';
import { serverTree } from '../src/sim/redfish/serverTree';
import { startApplication, type Application } from './support/application';
import { captureOf, packetsOf } from './support/captures';
import {
  accessibilityProblems,
  click,
  fill,
  launchBrowser,
  openPage,
  openWhole,
  press,
  pressAmong,
  see,
} from './support/browser';
import { stopAll, temporaryFolder } from './support/program';

/** What one does in Survey beside running it: try a credential, judge a certificate, survey files. */
let app: Application;
let browser: Browser;
let page: Page;
let errors: string[];
let controller: ManagementController;
const port = 21_445;
const folder = temporaryFolder();
const device = ostermere(8).devices.find(({ name }) => name === 'sgh-srv-04');
const box = device && controllerOf(device, 8);
if (!box) throw new Error('the sample has no such server');
const tree = serverTree(box);
const serve = async () => {
  controller = new ManagementController({ address: '127.210.2.14', port, ...sampleHardwareUser }, tree);
  await controller.listen();
};

beforeAll(async () => {
  [app, browser] = await Promise.all([startApplication(), launchBrowser(), serve()]);
  ({ page, errors } = await openPage(browser));
  await page.goto(`${app.address}/`);
  await fill(page, 'input[name=name]', 'marla');
  await fill(page, 'input[name=password]', 'ostermere-lights');
  await fill(page, 'input[name=confirmation]', 'ostermere-lights');
  await press(page, 'Make the administrator');
  await see(page, 'Setting up');
  await openWhole(page, `${app.address}/survey`);
  await see(page, 'No credential yet');
});
afterAll(async () => {
  await browser?.close();
  await controller.close();
  await stopAll();
});

async function addLogin(name: string, password: string): Promise<void> {
  await press(page, 'Add a credential');
  await fill(page, 'input[name=name]', name);
  await page.focus('[role=dialog] [role=combobox]');
  await page.keyboard.press('Enter');
  // the list takes the keys once it has the focus
  for (const wanted of [/v2c/, /v1/, /Redfish/]) {
    await page.waitForFunction(() => document.activeElement?.getAttribute('role') === 'option');
    await page.keyboard.press('ArrowDown');
    await page.waitForFunction(
      (words) => new RegExp(words).test((document.activeElement as HTMLElement | null)?.innerText ?? ''),
      {},
      wanted.source,
    );
  }
  await page.keyboard.press('Enter');
  await page.waitForSelector('[role=option]', { hidden: true });
  await fill(page, 'input[name=user]', sampleHardwareUser.user);
  await fill(page, 'input[name=password]', password);
  await press(page, 'Save the credential');
  await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
}

test('a scope asks for three things; when it runs is chosen as days and times, with the next runs written out', async () => {
  await press(page, 'Add a credential');
  await fill(page, 'input[name=name]', 'calendar');
  await click(page, '[role=dialog] [role=combobox]');
  await press(page, 'SNMP v2c community');
  await page.waitForSelector('[role=option]', { hidden: true });
  await fill(page, 'input[name=community]', 'not-a-secret');
  await press(page, 'Save the credential');
  await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
  await press(page, 'Add a scope');
  await page.waitForSelector('[role=dialog] textarea[name=ranges]', { visible: true });
  const shown = () =>
    page.$$eval('[role=dialog] input:not([type=checkbox]), [role=dialog] textarea[name]', (fields) =>
      fields.filter((field) => field.getClientRects().length > 0).map((field) => field.getAttribute('name')),
    );
  expect(await shown()).toEqual(['name', 'ranges']);
  await fill(page, 'input[name=name]', 'By calendar');
  await fill(page, 'textarea[name=ranges]', '10.72.250.0/30');
  await press(page, 'When: by hand only');
  await click(page, '[role=dialog] [role=combobox]');
  await press(page, 'on days of the week');
  await page.waitForSelector('[role=option]', { hidden: true });
  await press(page, 'Mon');
  await see(page, 'The next runs:');
  await page.waitForFunction(() => document.querySelectorAll('.runs li').length === 5);
  const runs = await page.$$eval('.runs li', (lines) => lines.map((line) => (line as HTMLElement).innerText));
  expect(runs.every((run) => /^(Tue|Wed|Thu|Fri) .*06:00$/.test(run))).toBe(true);
  expect(await accessibilityProblems(page)).toEqual([]);
  await press(page, 'Save the scope');
  await see(page, 'Tuesday to Friday at 06:00: next');
  // nobody reads a rule of five fields
  expect(await page.$eval('main', (main) => main.innerText)).not.toMatch(/\* \*/);
  await pressAmong(page, 'button', 'Delete');
  await see(page, 'Deleted the scope “By calendar”');
  await see(page, 'No scope yet');
  await press(page, 'Undo');
  await see(page, 'taken back');
  await see(page, 'Tuesday to Friday at 06:00: next');
  await pressAmong(page, 'button', 'Delete');
  await see(page, 'Deleted the scope “By calendar”');
  await see(page, 'No scope yet');
  await pressAmong(page, 'button', 'Delete');
  await see(page, 'Deleted the credential “calendar”');
});

describe('a credential', () => {
  test('for Redfish is added by user and password, and tried at an address: right, wrong, and nobody there', async () => {
    await addLogin('hardware', sampleHardwareUser.password);
    await addLogin('hardware, wrong', 'not-this-one');
    await press(page, 'Add a scope');
    await fill(page, 'input[name=name]', 'Signal House');
    await fill(page, 'textarea[name=ranges]', '10.72.2.14');
    await press(page, 'How it is reached: as usual');
    await fill(page, 'textarea[name=translations]', '10.72.0.0/16 via 127.210.0.0/16');
    await fill(page, 'input[name=httpsPort]', String(port));
    await press(page, 'How hard it asks: as usual');
    await fill(page, 'input[name=timeoutMs]', '200');
    await press(page, '2. hardware, wrong');
    await press(page, 'Save the scope');
    await page.waitForFunction(() => !document.querySelector('[role=dialog]'));
    const tryAt = async (which: number, address: string) => {
      await pressAmong(page, 'button', 'Test', which);
      await fill(page, 'input[name=address]', address);
      await page.keyboard.press('Enter');
    };
    await tryAt(0, '10.72.2.14');
    await see(page, 'It lets this credential in');
    await see(page, 'Redfish lets “hardware” in');
    expect(await accessibilityProblems(page)).toEqual([]);
    await press(page, 'Close');
    await tryAt(1, '10.72.2.14');
    // it is tried by no scope: nobody approved yet where it may be sent
    await see(page, `“hardware, wrong” may not be sent to 127.210.2.14 port ${port}`);
    await press(page, `Approve 127.210.2.14, port ${port} and ask again`);
    await see(page, /rejects the user or the password of “hardware, wrong”/);
    await see(page, 'Correct the user or the password');
    await fill(page, 'input[name=address]', '10.72.2.15');
    await page.keyboard.press('Enter');
    await press(page, `Approve 127.210.2.15, port ${port} and ask again`);
    await see(page, 'no answer over HTTPS');
    await fill(page, 'input[name=address]', 'ten');
    await page.keyboard.press('Enter');
    await see(page, '“ten” is not an IP address');
    await press(page, 'Close');
  });
});

test('a certificate that changed waits for a person, who trusts it; then the survey answers again', async () => {
  await press(page, 'Run now');
  await see(page, 'by the clock');
  await controller.close();
  await serve();
  await page.goto(`${app.address}/survey`);
  await press(page, 'Run now');
  await see(page, 'by the clock');
  await see(page, 'another certificate than before');
  await page.goto(`${app.address}/survey`);
  await see(page, 'Certificates that changed');
  await press(page, 'Trust the new one');
  await page.waitForFunction(
    () => !(document.querySelector('body')?.innerText ?? '').includes('Certificates that changed'),
  );
  await press(page, 'Run now');
  await see(page, 'by the clock');
  const { rows } = await page.evaluate(
    async () =>
      (await fetch('/api/v1/surveys')).json() as Promise<{ rows: { summary: { devices: { found: number } } }[] }>,
  );
  expect(rows.map(({ summary }) => summary.devices.found)).toEqual([1, 0, 1]);
});

describe('files', () => {
  const upload = async (words: string, file: string) => {
    await page.goto(`${app.address}/survey`);
    // what was fetched is there once the page has come alive
    await see(page, 'Signal House');
    const [chooser] = await Promise.all([page.waitForFileChooser(), press(page, words)]);
    await chooser.accept([file]);
  };
  test('a zip of walks is surveyed like the equipment itself; one that is no zip is told', async () => {
    writeFileSync(
      path.join(folder, '10.72.9.1.walk'),
      '.1.3.6.1.2.1.1.1.0 = STRING: "Kestrane K-Ring 12, release 7.4.9"\n.1.3.6.1.2.1.1.5.0 = STRING: "mlr-ring"\n',
    );
    execFileSync('python3', [
      '-m',
      'zipfile',
      '-c',
      path.join(folder, 'millrace.zip'),
      path.join(folder, '10.72.9.1.walk'),
    ]);
    await upload('numeric walks', path.join(folder, 'millrace.zip'));
    await see(page, 'by the clock');
    await see(page, 'millrace');
    await page.goto(`${app.address}/estate`);
    await see(page, 'mlr-ring');
    writeFileSync(path.join(folder, 'broken.zip'), 'this is no zip');
    await upload('numeric walks', path.join(folder, 'broken.zip'));
    await see(page, 'is no zip archive');
  });
  test('a capture of packets tells who talked to whom; the same once more counts nothing, and one that is none is told', async () => {
    const { packets } = packetsOf([
      {
        client: '10.72.99.7',
        server: '10.72.9.1',
        port: 443,
        protocol: 6,
        connections: [{ clientPort: 50_001, at: 1_777_896_000, says: [40, 900] }],
      },
    ]);
    const mirror = path.join(folder, 'mirror.pcapng');
    writeFileSync(mirror, captureOf(packets, { format: 'pcapng', bigEndian: false, link: 'ethernet' }));
    await upload('a capture of packets', mirror);
    await see(page, 'mirror.pcapng: 5 packets, 1 conversation.');
    await press(page, 'Look at the conversations');
    await see(page, '10.72.99.7');
    // the address of the device whose walk was taken in
    await see(page, 'mlr-ring');
    await click(page, '.table .body [role=row] [role=gridcell]');
    await see(page, 'on one day, at');
    expect(await accessibilityProblems(page)).toEqual([]);
    await upload('a capture of packets', mirror);
    await see(page, 'mirror.pcapng was taken in before: nothing is counted twice.');
    writeFileSync(path.join(folder, 'notes.pcap'), 'no capture at all');
    await upload('a capture of packets', path.join(folder, 'notes.pcap'));
    await see(page, 'notes.pcap: this is no pcap or pcapng file');
  });
  test('a zip of Redfish trees too', async () => {
    for (const [resource, content] of tree) {
      const place = path.join(folder, 'trees', '10.72.2.44', resource);
      mkdirSync(place, { recursive: true });
      writeFileSync(
        path.join(place, 'index.json'),
        JSON.stringify({
          ...content,
          ...(resource === '/redfish/v1/Systems/node' && {
            SerialNumber: 'BR2-900',
            UUID: null,
            HostName: 'hdp-srv-01',
          }),
          ...(resource === '/redfish/v1/Chassis/enclosure' && { SerialNumber: 'BR2-900' }),
        }),
      );
    }
    execFileSync('python3', [
      '-m',
      'zipfile',
      '-c',
      path.join(folder, 'depot.zip'),
      path.join(folder, 'trees', '10.72.2.44'),
    ]);
    await upload('Redfish trees', path.join(folder, 'depot.zip'));
    await see(page, 'by the clock');
    await page.goto(`${app.address}/estate`);
    await see(page, 'BR2-900');
    expect(errors).toEqual([]);
  });
});
