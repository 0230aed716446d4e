import * as yup from 'yup';
import type { HarvestPart, PartState } from '../estate/harvest';
import { expectObject, expectRows } from './expectation';
import type { Json } from './json';
import { wholePart, type ResourceAnswer } from './resourceAnswer';
import { toldReport } from './toldReport';

/** Whose private interface this is. */
const vendor = 'Tessaly';

/** What the interface of the wireless controller is expected to answer. Keys of wireless networks are not asked for, and not kept where they are sent. */
const controllerSchema = yup.object({
  name: yup.string().required(),
  model: yup.string().required(),
  serial: yup.string().required(),
  release: yup.string().required(),
  uptimeSeconds: yup.number().required(),
});
const accessPointSchema = yup.object({
  name: yup.string().required(),
  model: yup.string().required(),
  serial: yup.string().required(),
  release: yup.string().required(),
  address: yup.string().required(),
  mac: yup.string().required(),
  state: yup.string().required(),
  clients: yup.number().required(),
  wired: yup.object({ switch: yup.string().required(), port: yup.string().required() }).nullable().defined(),
});
const wlanSchema = yup.object({
  ssid: yup.string().required(),
  security: yup.string().required(),
  vlan: yup.number().nullable().defined(),
  enabled: yup.boolean().required(),
  clients: yup.number().required(),
  accessPoints: yup.number().required(),
});

export interface WirelessAnswers {
  controller: Json;
  /** text where the resource could not be had */
  accessPoints: { body: Json } | { missing: string };
  wlans: { body: Json } | { missing: string };
}

/** The controller, its wireless networks, and its access points as devices of their own. Null where it does not even say who it is. */
export function interpretWireless(
  { controller, accessPoints, wlans }: WirelessAnswers,
  { address, credential }: { address: string; credential: string },
): ResourceAnswer | { drift: string } {
  const { value: own, drift: unknown } = expectObject(controllerSchema, controller, 'controller');
  if (!own) return { drift: unknown ?? 'this interface changed' };
  const networks =
    'body' in wlans ? expectRows(wlanSchema, wlans.body, 'items', 'wlans') : { rows: [], drift: wlans.missing };
  const points =
    'body' in accessPoints
      ? expectRows(accessPointSchema, accessPoints.body, 'items', 'access-points')
      : { rows: [], drift: accessPoints.missing };
  const state = (drift: string | null): PartState =>
    drift === null ? wholePart : { state: 'failed', reason: drift, seconds: 0 };
  const parts: Partial<Record<HarvestPart, PartState>> = {
    system: wholePart,
    wireless: state(networks.drift),
    told: state(points.drift),
  };
  return {
    parts,
    report: toldReport(
      'wireless',
      {
        name: own.name,
        role: 'wireless-controller',
        address,
        credential,
        vendor,
        site: '',
        model: own.model,
        serial: own.serial,
        release: own.release,
      },
      {
        volatile: {
          uptimeSeconds: own.uptimeSeconds,
          flashFreeBytes: null,
          storage: [],
          wlanClients: Object.fromEntries(networks.rows.map(({ ssid, clients }) => [ssid, clients])),
        },
        toldLinks: points.rows.flatMap(({ name, wired }) =>
          wired
            ? [
                {
                  a: { device: wired.switch, port: wired.port },
                  b: { device: name, port: '' },
                  kind: 'ethernet' as const,
                  up: true,
                },
              ]
            : [],
        ),
        wlans: networks.rows.map(({ ssid, security, vlan, enabled, accessPoints: count }) => ({
          name: ssid,
          security,
          vlan,
          enabled,
          accessPoints: count,
        })),
      },
    ),
    others: points.rows
      .filter((point) => point.state === 'connected')
      .map(({ name, model, serial, release, address: at }) => ({
        parts: { system: wholePart },
        report: toldReport('wireless', {
          name,
          role: 'access-point',
          address: at,
          credential,
          vendor,
          site: '',
          model,
          serial,
          release,
        }),
      })),
  };
}
