import { randomBytes } from 'node:crypto';
import { selfSigned, type SelfSigned } from '../https/certificate';
import { JsonService, type ServiceAnswer, type ServiceRequest } from '../https/jsonService';

export interface ControllerPlace {
  address: string;
  port: number;
  user: string;
  password: string;
}

export interface WirelessState {
  controller: { name: string; model: string; serial: string; release: string; uptimeSeconds: number };
  accessPoints: {
    name: string;
    model: string;
    serial: string;
    release: string;
    address: string;
    mac: string;
    state: 'connected' | 'lost';
    clients: number;
    wired: { switch: string; port: string } | null;
  }[];
  wlans: {
    ssid: string;
    security: string;
    vlan: number | null;
    enabled: boolean;
    clients: number;
    accessPoints: number;
    key: string;
  }[];
  /** since this release the lists name their fields otherwise */
  renamed?: boolean;
}

/** A simulated wireless controller: its private interface, with keys in it that nobody should keep. */
export class WirelessController {
  readonly service: JsonService;
  readonly #tokens = new Set<string>();

  constructor(
    readonly place: ControllerPlace,
    public state: WirelessState,
  ) {
    this.service = new JsonService(place.address, place.port, (request) => this.#answer(request));
  }

  async listen(certificate?: SelfSigned): Promise<void> {
    await this.service.listen(certificate ?? (await selfSigned('wireless controller', this.place.address)));
  }

  close(): Promise<void> {
    return this.service.close();
  }

  #answer({ method, path, query, headers, body }: ServiceRequest): ServiceAnswer {
    if (path === '/wlc/v2/about') return { status: 200, body: { interface: 'wlc', version: 2 } };
    if (path === '/wlc/v2/login' && method === 'POST') {
      const given = JSON.parse(body || '{}') as { user?: string; password?: string };
      if (given.user !== this.place.user || given.password !== this.place.password) return { status: 401 };
      const token = randomBytes(10).toString('hex');
      this.#tokens.add(token);
      return { status: 200, body: { token } };
    }
    const token = /^Bearer (.+)$/.exec(headers.authorization ?? '')?.[1] ?? '';
    if (!this.#tokens.has(token)) return { status: 401 };
    if (path === '/wlc/v2/logout') {
      this.#tokens.delete(token);
      return { status: 204 };
    }
    const page = (items: object[]) => {
      const offset = Number(query.get('offset') ?? 0);
      return {
        status: 200,
        body: {
          items: items.slice(offset, offset + Math.min(10, Number(query.get('limit') ?? 10))),
          total: items.length,
        },
      };
    };
    switch (path) {
      case '/wlc/v2/controller':
        return { status: 200, body: this.state.controller };
      case '/wlc/v2/wlans':
        return page(this.state.wlans);
      case '/wlc/v2/access-points':
        return page(
          this.state.renamed
            ? this.state.accessPoints.map(({ serial, ...rest }) => ({ ...rest, serialNumber: serial }))
            : this.state.accessPoints,
        );
      default:
        return { status: 404 };
    }
  }

  get openSessions(): number {
    return this.#tokens.size;
  }
}
