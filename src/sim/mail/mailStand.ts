import { createServer, type Server, type Socket } from 'node:net';

export interface TakenMail {
  from: string;
  to: string[];
  /** head and body as they came, without the dots that were put before lines */
  text: string;
}

/** How the stand-in behaves otherwise than a server at peace. */
export interface MailMoods {
  /** user and password it asks for */
  login?: { user: string; password: string };
  /** recipients it knows nobody of */
  unknown?: string[];
  /** says nothing at all */
  mute?: boolean;
}

/** A mail server on loopback that takes messages and keeps them (RFC 5321, with AUTH PLAIN and LOGIN of RFC 4954), in the clear. */
export class MailStand {
  readonly taken: TakenMail[] = [];
  readonly #server: Server;
  readonly #sockets = new Set<Socket>();

  constructor(
    readonly moods: MailMoods = {},
    readonly onTaken: (mail: TakenMail) => void = () => undefined,
  ) {
    this.#server = createServer((socket) => this.#serve(socket));
  }

  listen(port = 0, address = '127.0.0.1'): Promise<number> {
    return new Promise((resolve, reject) => {
      this.#server.once('error', reject);
      this.#server.listen(port, address, () => resolve((this.#server.address() as { port: number }).port));
    });
  }

  close(): Promise<void> {
    for (const socket of this.#sockets) socket.destroy();
    return new Promise((resolve) => {
      this.#server.close(() => resolve());
    });
  }

  #serve(socket: Socket): void {
    this.#sockets.add(socket);
    socket.on('close', () => this.#sockets.delete(socket)).on('error', () => undefined);
    const { login, unknown = [], mute = false } = this.moods;
    if (mute) return;
    const say = (line: string) => void socket.write(`${line}\r\n`);
    let [known, reading, buffered] = [login === undefined, false, ''];
    let [from, to, lines]: [string, string[], string[]] = ['', [], []];
    let asked: ((answer: string) => void) | null = null;
    const enter = (user: string, password: string) => {
      known = login !== undefined && user === login.user && password === login.password;
      say(known ? '235 2.7.0 come in' : '535 5.7.8 user and password do not fit');
    };
    const plain = (text: string) => {
      const [, user = '', password = ''] = Buffer.from(text, 'base64').toString('utf8').split('\0');
      enter(user, password);
    };
    const hear = (line: string) => {
      if (reading) {
        if (line !== '.') return void lines.push(line.startsWith('.') ? line.slice(1) : line);
        const mail = { from, to, text: lines.join('\n') };
        this.taken.push(mail);
        this.onTaken(mail);
        [reading, from, to, lines] = [false, '', [], []];
        return say('250 2.0.0 taken');
      }
      if (asked) {
        const answer = asked;
        asked = null;
        return answer(line);
      }
      const [verb = '', ...rest] = line.split(' ');
      const path = /<([^>]*)>/.exec(line)?.[1] ?? '';
      switch (verb.toUpperCase()) {
        case 'EHLO':
          return say(login ? '250-stand\r\n250 AUTH PLAIN LOGIN' : '250 stand');
        case 'HELO':
        case 'RSET':
        case 'NOOP':
          return say('250 ok');
        case 'AUTH':
          if (rest[0]?.toUpperCase() === 'PLAIN') {
            if (rest[1]) return plain(rest[1]);
            asked = plain;
            return say('334 ');
          }
          asked = (user) => {
            asked = (password) =>
              enter(Buffer.from(user, 'base64').toString('utf8'), Buffer.from(password, 'base64').toString('utf8'));
            say('334 UGFzc3dvcmQ6');
          };
          return say('334 VXNlcm5hbWU6');
        case 'MAIL':
          if (!known) return say('530 5.7.0 say who you are first');
          from = path;
          return say('250 2.1.0 ok');
        case 'RCPT':
          if (unknown.includes(path)) return say('550 5.1.1 nobody has that address');
          to.push(path);
          return say('250 2.1.5 ok');
        case 'DATA':
          reading = true;
          return say('354 go on');
        case 'QUIT':
          say('221 2.0.0 bye');
          return void socket.end();
        default:
          return say('502 5.5.1 not known');
      }
    };
    socket.on('data', (part) => {
      buffered += part.toString('utf8');
      for (let end = buffered.indexOf('\r\n'); end >= 0; end = buffered.indexOf('\r\n')) {
        const line = buffered.slice(0, end);
        buffered = buffered.slice(end + 2);
        hear(line);
      }
    });
    say('220 stand ESMTP');
  }
}
