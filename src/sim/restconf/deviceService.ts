import { selfSigned, type SelfSigned } from '../https/certificate';
import type { ImageFlash } from './imageFlash';
import { basicLogin, JsonService, type ServiceAnswer, type ServiceRequest } from '../https/jsonService';

export interface RestconfSetup {
  address: string;
  port: number;
  user: string;
  password: string;
  /** the root is where the well-known place says */
  root?: string;
}

/** A simulated network device that speaks RESTCONF over TLS: host-meta, data resources, Basic. */
export class RestconfDevice {
  readonly service: JsonService;

  /** @param data what lies below `/data`, by module and container: `ietf-system:system` */
  constructor(
    readonly setup: RestconfSetup,
    public data: Record<string, object>,
    /** how it takes images; one without has none of that */
    readonly flash: ImageFlash | null = null,
  ) {
    this.service = new JsonService(
      setup.address,
      setup.port,
      (request) => this.#answer(request),
      () => this.flash?.isAway ?? false,
    );
  }

  async listen(certificate?: SelfSigned): Promise<void> {
    await this.service.listen(certificate ?? (await selfSigned('network device', this.setup.address)));
  }

  close(): Promise<void> {
    return this.service.close();
  }

  /** What runs, and since when, follows from its images. */
  #withFlash(flash: ImageFlash): Record<string, object> {
    const state = this.data['ietf-system:system-state'] as { platform?: object } | undefined;
    return {
      ...this.data,
      'ietf-system:system-state': {
        ...state,
        platform: { ...state?.platform, 'os-release': flash.release },
        ...(flash.bootedAt && {
          clock: { 'current-datetime': new Date().toISOString(), 'boot-datetime': flash.bootedAt.toISOString() },
        }),
      },
      ...(flash.losesNeighboursWith !== '' &&
        flash.losesNeighboursWith === flash.release && { 'ieee802-dot1ab-lldp:lldp': {} }),
      'fenmoor-images:images': flash.state(),
    };
  }

  #answer(request: ServiceRequest): ServiceAnswer {
    const { root = '/restconf', user, password } = this.setup;
    if (request.path === '/.well-known/host-meta') {
      return {
        status: 200,
        headers: { 'content-type': 'application/xrd+xml' },
        body: `<XRD xmlns='http://docs.oasis-open.org/ns/xri/xrd-1.0'><Link rel='restconf' href='${root}'/></XRD>`,
      };
    }
    if (!request.path.startsWith(root)) return { status: 404 };
    const login = basicLogin(request.headers);
    if (login?.user !== user || login.password !== password)
      return {
        status: 401,
        body: { 'ietf-restconf:errors': { error: [{ 'error-type': 'protocol', 'error-tag': 'access-denied' }] } },
      };
    const type = { 'content-type': 'application/yang-data+json' };
    if (request.path === root)
      return {
        status: 200,
        headers: type,
        body: { 'ietf-restconf:restconf': { data: {}, operations: {}, 'yang-library-version': '2019-01-04' } },
      };
    if (this.flash && request.method === 'POST') {
      const [, name] = /\/operations\/fenmoor-images:([\w-]+)$/.exec(request.path) ?? [];
      const told = JSON.parse(request.body || '{}') as Record<string, Record<string, string>>;
      return { status: this.flash.operate(name ?? '', told['fenmoor-images:input'] ?? {}), headers: type };
    }
    const resource = request.path.slice(`${root}/data/`.length);
    const body = this.flash ? this.#withFlash(this.flash)[resource] : this.data[resource];
    return body
      ? { status: 200, headers: type, body: { [resource]: body } }
      : {
          status: 404,
          headers: type,
          body: { 'ietf-restconf:errors': { error: [{ 'error-type': 'application', 'error-tag': 'invalid-value' }] } },
        };
  }
}
