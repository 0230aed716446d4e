import { createTransport } from 'nodemailer';
import type { MailServer } from '../../core/mail/mailServer';

export interface Message {
  to: string[];
  subject: string;
  text: string;
}

/** Mail was not taken: why, and what to do about it. */
export class MailError extends Error {
  constructor(
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

const waitMs = 10_000;

/** Hands a message to the mail server. @returns what the server said when it took it @throws MailError */
export async function sendMail(server: MailServer, password: string, { to, subject, text }: Message): Promise<string> {
  const { host, port, security, user, from } = server;
  const transport = createTransport({
    host,
    port,
    secure: security === 'tls',
    requireTLS: security === 'starttls',
    ignoreTLS: security === 'none',
    ...(user && { auth: { user, pass: password } }),
    connectionTimeout: waitMs,
    greetingTimeout: waitMs,
    socketTimeout: waitMs,
  });
  try {
    const { response, rejected } = await transport.sendMail({
      from,
      to,
      subject,
      text,
      disableFileAccess: true,
      disableUrlAccess: true,
    });
    if (rejected.length > 0)
      throw new MailError(`${host} does not take mail for ${rejected.map(String).join(', ')}`, 'Look at the address.');
    return response;
  } catch (error) {
    throw error instanceof MailError
      ? error
      : mailErrorOf(error as Error & { code?: string; responseCode?: number; response?: string }, server);
  } finally {
    transport.close();
  }
}

/** What a failure means. */
function mailErrorOf(
  { code, message, responseCode, response }: Error & { code?: string; responseCode?: number; response?: string },
  { host, port, security, user }: MailServer,
): MailError {
  const said = response ? `: “${response.replace(/\s+/g, ' ').slice(0, 200)}”` : '';
  if (/ENOTFOUND|EAI_AGAIN|EDNS/.test(`${code ?? ''} ${message}`))
    return new MailError(`There is no server called ${host}`, 'Look at its name, or write its address.');
  if (/ECONNREFUSED/.test(message))
    return new MailError(
      `Nobody takes mail on ${host} port ${port}`,
      'Look at the port: 587 with STARTTLS, 465 with TLS, 25 in the clear.',
    );
  if (code === 'EAUTH')
    return new MailError(
      user ? `${host} does not let ${user} in${said}` : `${host} asks for a user${said}`,
      user ? 'Look at user and password.' : 'Give a user and its password.',
    );
  if (/self.signed|certificate|altname|CERT_/i.test(message))
    return new MailError(
      `The certificate of ${host} is not trusted: ${message}`,
      'Give the server a certificate of an authority this machine knows, and its name as it stands there.',
    );
  if (code === 'ETLS' || /STARTTLS|wrong version number|ssl|tls/i.test(message))
    return new MailError(
      `${host} port ${port} does not speak ${security === 'none' ? 'plainly' : security === 'tls' ? 'TLS from the start' : 'STARTTLS'}`,
      'Choose the other security, or the port that goes with this one.',
    );
  if (code === 'ETIMEDOUT' || code === 'ECONNECTION' || code === 'ESOCKET')
    return new MailError(
      `${host} port ${port} does not answer as a mail server: ${message}`,
      'Look at name and port, and whether a firewall lies between.',
    );
  if (responseCode !== undefined)
    return new MailError(
      `${host} does not take the message${said}`,
      responseCode >= 500
        ? 'Look at sender and recipient: the server may take mail only from some.'
        : 'Try again later.',
    );
  return new MailError(message, 'Look at the settings.');
}
