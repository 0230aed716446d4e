import { selfSigned, type SelfSigned } from '../https/certificate';
import { basicLogin, JsonService, type ServiceAnswer, type ServiceRequest } from '../https/jsonService';
import type { ControllerPlace } from './wireless';

export interface FabricState {
  controller: { fabric: string; hostname: string; model: string; serial: string; software: string };
  nodes: {
    node: string;
    function: 'leaf' | 'spine';
    model: string;
    serial: string;
    software: string;
    management: string;
    reachable: boolean;
  }[];
  tenants: {
    tenant: string;
    contexts: string[];
    domains: { domain: string; context: string; subnets: string[] }[];
    groups: { group: string; domain: string }[];
  }[];
  endpoints: {
    mac: string;
    addresses: string[];
    tenant: string;
    group: string;
    node: string;
    interface: string;
    vlan: number;
  }[];
  links: { from: string; fromInterface: string; to: string; toInterface: string; up: boolean }[];
}

const pageSize = 4;

/** A simulated fabric controller. */
export class FabricController {
  readonly service: JsonService;

  constructor(
    readonly place: ControllerPlace,
    public state: FabricState,
  ) {
    this.service = new JsonService(place.address, place.port, (request) => this.#answer(request));
  }

  async listen(certificate?: SelfSigned): Promise<void> {
    await this.service.listen(certificate ?? (await selfSigned('fabric controller', this.place.address)));
  }

  close(): Promise<void> {
    return this.service.close();
  }

  #answer({ path, query, headers }: ServiceRequest): ServiceAnswer {
    if (path === '/fabric/1') return { status: 200, body: { service: 'fabric' } };
    if (!path.startsWith('/fabric/1/')) return { status: 404 };
    const login = basicLogin(headers);
    if (login?.user !== this.place.user || login.password !== this.place.password) return { status: 401 };
    const page = (field: 'nodes' | 'tenants' | 'endpoints' | 'links') => {
      const from = Number(query.get('from') ?? 0);
      const all = this.state[field];
      return {
        status: 200,
        body: {
          [field]: all.slice(from, from + pageSize),
          ...(from + pageSize < all.length && { nextPage: `${path}?from=${from + pageSize}` }),
        },
      };
    };
    switch (path) {
      case '/fabric/1/controller':
        return { status: 200, body: this.state.controller };
      case '/fabric/1/nodes':
        return page('nodes');
      case '/fabric/1/tenants':
        return page('tenants');
      case '/fabric/1/endpoints':
        return page('endpoints');
      case '/fabric/1/links':
        return page('links');
      default:
        return { status: 404 };
    }
  }
}
