import * as yup from 'yup';

/**
 * How the firmware of a device is changed over RESTCONF, where its models are its maker's own. Places are JSON pointers (RFC 6901) into the resource `state`; names are those of leaves.
 * In bodies of operations `{url}`, `{file}`, `{hash}` and `{bytes}` stand for what is copied.
 */
export interface UpdateOverRestconf {
  /** from the root of RESTCONF: `/data/…` */
  state: string;
  running: string;
  next?: string;
  free?: string;
  images: { at: string; file: string; release?: string; hash?: string };
  transfer?: {
    at: string;
    file: string;
    state: string;
    isDone: string;
    isFailed: string;
    percent?: string;
    words?: string;
  };
  copy: Operation;
  setNext?: Operation;
  restart: Operation;
}

interface Operation {
  /** from the root of RESTCONF: `/operations/…` */
  path: string;
  /** any JSON */
  body: unknown;
}

const pointer = () => yup.string().matches(/^(\/[^/\s]+)+$/, 'A JSON pointer, as /kept-images/image');
const name = () => yup.string().max(200);
const operation = () =>
  yup.object({
    path: yup
      .string()
      .required()
      .matches(/^\/operations\/[\w.:-]+$/, 'An operation, as /operations/module:copy'),
    body: yup.mixed().required(),
  });

/** How it is written in a signature. */
export const updateOverRestconfSchema = yup
  .object({
    state: yup
      .string()
      .required()
      .matches(/^\/data\/[\w.:/=-]+$/, 'A resource, as /data/module:images'),
    running: pointer().required(),
    next: pointer(),
    free: pointer(),
    images: yup
      .object({ at: pointer().required(), file: name().required(), release: name(), hash: name() })
      .noUnknown()
      .required(),
    transfer: yup
      .object({
        at: pointer().required(),
        file: name().required(),
        state: name().required(),
        isDone: name().required(),
        isFailed: name().required(),
        percent: name(),
        words: name(),
      })
      .noUnknown()
      .default(undefined),
    copy: operation().required(),
    setNext: operation().default(undefined),
    restart: operation().required(),
  })
  .noUnknown();

/** A body with what is meant in the places of `{…}`. */
export function filledIn(body: unknown, values: Readonly<Record<string, string>>): unknown {
  if (typeof body === 'string') return body.replace(/\{(\w+)\}/g, (whole, word: string) => values[word] ?? whole);
  if (Array.isArray(body)) return body.map((one) => filledIn(one, values));
  if (body !== null && typeof body === 'object')
    return Object.fromEntries(Object.entries(body).map(([key, value]) => [key, filledIn(value, values)]));
  return body;
}
