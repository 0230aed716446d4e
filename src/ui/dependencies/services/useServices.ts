import { useQuery } from '@tanstack/react-query';
import type { ServiceRule } from '@/core/services/serviceRule';
import { call, type ApiProblem } from '../../lib/api';

export interface ServiceClient {
  name: string;
  deviceId: number | null;
  process: string;
  port: number;
  protocol: string;
  conversation: string;
  firstSeen: string;
  lastSeen: string;
  rhythm: string;
}

export interface ServiceInstance {
  deviceId: number;
  device: string;
  site: string;
  process: string;
  path: string;
  arguments: string;
  package: string;
  version: string;
  knownBy: string;
  listeners: string[];
  isLocal: boolean;
  clients: number;
  newest: ServiceClient[];
}

export interface ServiceGroup {
  id: string;
  name: string;
  kind: string;
  publisher: string;
  category: string;
  instances: ServiceInstance[];
  clients: number;
}

export const useServices = (survey: string | null) =>
  useQuery<{ rows: ServiceGroup[] }, ApiProblem>({
    queryKey: ['service-groups', survey],
    queryFn: ({ signal }) => call(`service-groups${survey ? `?survey=${survey}` : ''}`, { signal }),
  });

export interface KeptRule extends ServiceRule {
  isOwn: boolean;
  listeners: number;
}

export const useServiceRules = (wanted: boolean) =>
  useQuery<{ rows: KeptRule[]; version: number }, ApiProblem>({
    queryKey: ['service-rules'],
    enabled: wanted,
    queryFn: ({ signal }) => call('service-rules', { signal }),
  });
