import { createServer, type Server } from 'node:net';
import { afterEach, describe, expect, test } from '@jest/globals';
import type { MailServer } from '../../core/mail/mailServer';
import { MailStand, type MailMoods } from '../../sim/mail/mailStand';
import { sendMail } from './sendMail';

const stands: { close: () => unknown }[] = [];
afterEach(async () => {
  for (const stand of stands.splice(0)) await stand.close();
});

async function stand(moods: MailMoods = {}): Promise<{ stand: MailStand; server: MailServer }> {
  const own = new MailStand(moods);
  stands.push(own);
  return {
    stand: own,
    server: {
      host: '127.0.0.1',
      port: await own.listen(),
      security: 'none',
      user: moods.login?.user ?? '',
      from: 'bolide@ostermere.example',
    },
  };
}
const message = { to: ['night@ostermere.example'], subject: 'Prüfung', text: 'A line.\n.\n.. and dots\n' };
const failure = async (server: MailServer, password = '') => {
  try {
    await sendMail(server, password, message);
    return null;
  } catch (error) {
    return error as Error & { remedy: string };
  }
};

describe('mail', () => {
  test('is taken as it was written, dots and umlauts too', async () => {
    const {
      stand: { taken },
      server,
    } = await stand();
    expect(await sendMail(server, '', message)).toMatch(/^250/);
    expect(taken).toMatchObject([{ from: 'bolide@ostermere.example', to: ['night@ostermere.example'] }]);
    expect(taken[0]?.text).toMatch(/Subject: =\?UTF-8\?Q\?Pr=C3=BCfung\?=/);
    expect(taken[0]?.text).toContain('A line.\n.\n.. and dots');
  });
  test('goes by user and password where the server wants them; wrong ones are told apart', async () => {
    const {
      stand: { taken },
      server,
    } = await stand({ login: { user: 'bolide', password: 'harbour-bell' } });
    await sendMail(server, 'harbour-bell', message);
    expect(taken).toHaveLength(1);
    expect(await failure(server, 'wrong')).toMatchObject({
      message: expect.stringContaining('does not let bolide in'),
      remedy: expect.stringContaining('password'),
    });
    expect(await failure({ ...server, user: '' })).toMatchObject({
      message: expect.stringContaining('say who you are first'),
    });
    expect(taken).toHaveLength(1);
  });
  test('what the server refuses, and where there is none, is told with what to do', async () => {
    const { server } = await stand({ unknown: ['night@ostermere.example'] });
    expect(await failure(server)).toMatchObject({ message: expect.stringContaining('nobody has that address') });
    expect(await failure({ ...server, security: 'starttls' })).toMatchObject({
      message: expect.stringContaining('STARTTLS'),
      remedy: expect.stringContaining('other security'),
    });
    expect(await failure({ ...server, security: 'tls' })).toMatchObject({
      message: expect.stringContaining('TLS from the start'),
    });
    const gone: Server = createServer();
    const port = await new Promise<number>((resolve) =>
      gone.listen(0, '127.0.0.1', () => resolve((gone.address() as { port: number }).port)),
    );
    await new Promise((resolve) => gone.close(resolve));
    expect(await failure({ ...server, port })).toMatchObject({
      message: `Nobody takes mail on 127.0.0.1 port ${port}`,
    });
    expect(await failure({ ...server, host: 'no-such-host.invalid' })).toMatchObject({
      message: expect.stringContaining('no server called'),
    });
  });
});
