import { randomBytes } from 'node:crypto';
import { selfSigned, type SelfSigned } from '../https/certificate';
import { basicLogin, JsonService, type ServiceAnswer, type ServiceRequest } from '../https/jsonService';
import type { ControllerPlace } from './wireless';

export interface HypervisorState {
  manager: { name: string; product: string; serial: string; build: string };
  clusters: { id: string; name: string }[];
  hosts: {
    id: string;
    name: string;
    cluster: string | null;
    connected: boolean;
    adapters: { name: string; mac: string; megabits: number | null; up: boolean }[];
    switches: {
      name: string;
      uplinks: string[];
      teaming: string;
      portGroups: { name: string; vlan: number | null }[];
    }[];
  }[];
  machines: {
    id: string;
    name: string;
    uuid: string;
    host: string;
    power: 'on' | 'off' | 'suspended';
    system: string;
    processors: number;
    memoryMiB: number;
    adapters: { mac: string; portGroup: string; switch: string }[];
  }[];
  datastores: { name: string; kind: string; capacityBytes: number; freeBytes: number }[];
}

const pageSize = 3;

/** A simulated hypervisor manager. */
export class HypervisorManager {
  readonly service: JsonService;
  readonly #keys = new Set<string>();

  constructor(
    readonly place: ControllerPlace,
    public state: HypervisorState,
  ) {
    this.service = new JsonService(place.address, place.port, (request) => this.#answer(request));
  }

  async listen(certificate?: SelfSigned): Promise<void> {
    await this.service.listen(certificate ?? (await selfSigned('hypervisor manager', this.place.address)));
  }

  close(): Promise<void> {
    return this.service.close();
  }

  #answer({ method, path, query, headers }: ServiceRequest): ServiceAnswer {
    if (path === '/hv/info') return { status: 200, body: { speaks: 'hv-manager' } };
    if (path === '/hv/session' && method === 'POST') {
      const login = basicLogin(headers);
      if (login?.user !== this.place.user || login.password !== this.place.password) return { status: 401 };
      const key = randomBytes(10).toString('hex');
      this.#keys.add(key);
      return { status: 201, headers: { 'hv-session': key } };
    }
    const key = String(headers['hv-session'] ?? '');
    if (!this.#keys.has(key)) return { status: 401 };
    if (path === '/hv/session' && method === 'DELETE') {
      this.#keys.delete(key);
      return { status: 204 };
    }
    if (path === '/hv/manager') return { status: 200, body: this.state.manager };
    const field = (['clusters', 'hosts', 'machines', 'datastores'] as const).find((name) => path === `/hv/${name}`);
    if (!field) return { status: 404 };
    const from = Number((query.get('cursor') ?? 'at-0').slice(3));
    const all = this.state[field];
    return {
      status: 200,
      body: {
        items: all.slice(from, from + pageSize),
        ...(from + pageSize < all.length && { cursor: `at-${from + pageSize}` }),
      },
    };
  }
}
