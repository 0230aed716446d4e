import { randomBytes } from 'node:crypto';
import { selfSigned, type SelfSigned } from '../https/certificate';
import type { UpdateBay } from './updateBay';
import { basicLogin, JsonService, type ServiceAnswer, type ServiceRequest } from '../https/jsonService';

export interface ControllerSetup {
  address: string;
  port: number;
  user: string;
  password: string;
  /** members a page of a collection holds */
  pageSize?: number;
  /** small controllers know no sessions */
  sessions?: boolean;
}

/** A simulated management controller: Redfish over TLS with its own certificate, sessions, paging. */
export class ManagementController {
  readonly service: JsonService;
  readonly #tokens = new Map<string, string>();
  /** logins that were refused */
  refusals = 0;

  constructor(
    readonly setup: ControllerSetup,
    public tree: Map<string, Record<string, unknown>>,
    /** how it takes images; one without takes none */
    readonly updates: UpdateBay | null = null,
  ) {
    this.service = new JsonService(
      setup.address,
      setup.port,
      (request) => this.#answer(request),
      () => this.updates?.isAway ?? false,
    );
  }

  async listen(certificate?: SelfSigned): Promise<void> {
    await this.service.listen(certificate ?? (await selfSigned('management controller', this.setup.address)));
  }

  close(): Promise<void> {
    return this.service.close();
  }

  /** sessions that were opened and not ended */
  get openSessions(): number {
    return this.#tokens.size;
  }

  #answer(request: ServiceRequest): ServiceAnswer {
    const path = request.path.replace(/(.)\/+$/, '$1');
    const sessions = '/redfish/v1/SessionService/Sessions';
    if (path === '/redfish/v1' && request.method === 'GET') return this.#resource(path, request);
    if (path === sessions && request.method === 'POST' && this.setup.sessions !== false)
      return this.#logIn(request.body);
    if (path.startsWith('/redfish/v1/SessionService') && this.setup.sessions === false) return { status: 404 };
    if (!this.#isLetIn(request))
      return { status: 401, body: { error: { code: 'Base.1.13.InsufficientPrivilege', message: 'Log in first.' } } };
    if (request.method === 'DELETE' && path.startsWith(`${sessions}/`)) {
      for (const [token, id] of this.#tokens) if (path.endsWith(`/${id}`)) this.#tokens.delete(token);
      return { status: 204 };
    }
    if (this.updates && request.method === 'POST' && path.endsWith('/Actions/SimpleUpdate')) {
      const { status, task } = this.updates.simpleUpdate(request.body);
      return { status, ...(task && { headers: { location: task }, body: { '@odata.id': task } }) };
    }
    if (request.method !== 'GET') return { status: 405 };
    return this.#resource(path, request);
  }

  #logIn(body: string): ServiceAnswer {
    const { UserName, Password } = JSON.parse(body || '{}') as { UserName?: string; Password?: string };
    if (UserName !== this.setup.user || Password !== this.setup.password) {
      this.refusals++;
      return { status: 401 };
    }
    const token = randomBytes(12).toString('hex');
    const id = String(this.#tokens.size + 1);
    this.#tokens.set(token, id);
    const location = `/redfish/v1/SessionService/Sessions/${id}`;
    return { status: 201, headers: { 'x-auth-token': token, location }, body: { '@odata.id': location } };
  }

  #isLetIn({ headers }: ServiceRequest): boolean {
    if (this.#tokens.has(String(headers['x-auth-token'] ?? ''))) return true;
    const login = basicLogin(headers);
    if (!login) return false;
    if (login.user === this.setup.user && login.password === this.setup.password) return true;
    this.refusals++;
    return false;
  }

  #withUpdates(path: string): Record<string, unknown> | undefined {
    const own = this.tree.get(path);
    if (!this.updates) return own;
    const [, of] = /^\/redfish\/v1\/(Managers|Systems)\/[^/]+$/.exec(path) ?? [];
    if (of && own)
      return {
        ...own,
        LastResetTime: this.updates.resetAt.toISOString(),
        ...(of === 'Managers'
          ? { FirmwareVersion: this.updates.versionOf(/controller/i) ?? own.FirmwareVersion }
          : { BiosVersion: this.updates.versionOf(/^BIOS$/i) ?? own.BiosVersion }),
      };
    const told = this.updates.resource(path);
    return told ? { ...own, ...told } : own;
  }

  #resource(path: string, { query }: ServiceRequest): ServiceAnswer {
    const resource = this.#withUpdates(path);
    if (!resource)
      return {
        status: 404,
        body: { error: { code: 'Base.1.13.ResourceMissingAtURI', message: 'There is no such resource.' } },
      };
    const members = resource.Members as unknown[] | undefined;
    const { pageSize } = this.setup;
    if (!members || !pageSize || members.length <= pageSize) return { status: 200, body: resource };
    const skip = Number(query.get('$skip') ?? 0);
    const next = skip + pageSize;
    return {
      status: 200,
      body: {
        ...resource,
        Members: members.slice(skip, next),
        ...(next < members.length && { 'Members@odata.nextLink': `${path}?$skip=${next}` }),
      },
    };
  }
}
