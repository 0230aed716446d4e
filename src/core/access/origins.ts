/**
 * Where the application is served, as browsers say it: scheme, host and port (RFC 6454, section 6.2).
 * @returns null where a text is no origin of a web application
 */
export function readOrigin(text: string): string | null {
  if (!/^https?:\/\//i.test(text) || !URL.canParse(text)) return null;
  const { origin, pathname, search, hash, username, password } = new URL(text);
  const more =
    (pathname !== '/' && pathname !== '') || search !== '' || hash !== '' || username !== '' || password !== '';
  return more ? null : origin;
}

/** An address as it stands in a URL: IPv6 in brackets, without a zone. */
const inUrl = (host: string): string => {
  const plain = host.replace(/%.*$/, '');
  return plain.includes(':') ? `[${plain}]` : plain;
};

const everywhere = new Set(['0.0.0.0', '::', '']);
export const loopbackNames = ['127.0.0.1', 'localhost', '::1'];

/** Whether an address is this machine itself (RFC 1122, 3.2.1.3; RFC 4291, 2.5.3), also where IPv4 stands in IPv6. */
export const isLoopback = (address: string): boolean =>
  /^(::ffff:)?127\.\d+\.\d+\.\d+$/i.test(address) || address === '::1';

/**
 * The origins that pages of ours come from: where the application listens, and where it was said to be served.
 * @param own names and addresses of this machine, for where it listens on all of them
 */
export function originsOf({
  listens: { host, port, secure },
  own,
  told,
}: {
  listens: { host: string; port: number; secure: boolean };
  own: readonly string[];
  told: readonly string[];
}): string[] {
  const scheme = secure ? 'https' : 'http';
  const hosts = everywhere.has(host)
    ? [...loopbackNames, ...own]
    : isLoopback(host)
      ? [host, ...loopbackNames]
      : [host];
  const here = hosts.map((name) => `${scheme}://${inUrl(name)}:${port}`);
  const read = [...here, ...told].map((text) => readOrigin(text));
  return [...new Set(read.filter((origin) => origin !== null))];
}

/** Who sent a request through proxies: what the nearest proxy says, in the order that proxies write it (`X-Forwarded-For`). */
export function forwardedBy(header: string | undefined): string | null {
  const nearest = header?.split(',').at(-1)?.trim() ?? '';
  return /^[0-9a-f.:]{2,45}$/i.test(nearest) ? nearest : null;
}
