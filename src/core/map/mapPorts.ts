import type { FaceplatePlan } from '../layout/faceplateRows';

/** A port as the map shows it on the plate of its device. */
export interface MapPort {
  name: string;
  alias: string;
  admin: string;
  oper: string;
  duplex: string;
  /** why the device switched it off itself; empty where it did not */
  disabledBy: string;
  speedBps: number | null;
  /** untagged */
  vlan: number | null;
  /** the aggregate it belongs to; null where it belongs to none */
  lag: string | null;
  stp: { state: string; role: string } | null;
  /** what is plugged in, in words, and how that is known */
  pluggedIn: string;
  how: string;
  change?: string;
  /** of the VLAN that is asked for: how it carries it, where it does */
  carries?: 'untagged' | 'tagged';
}

/** All ports of one device that can be touched, and how they stand on the metal where its model says so. */
export interface DevicePorts {
  device: number;
  plan: FaceplatePlan | null;
  ports: MapPort[];
}
