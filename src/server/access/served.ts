import { isLoopback } from '../../core/access/origins';

/** Under these names the program that listens tells who sent a request, and whether nobody on the way could read it; what a client sends under them is taken away there. */
export const sourceHeader = 'x-bolide-source';
export const secureHeader = 'x-bolide-secure';

/** How the application is served, as it was told at its start. */
interface Served {
  /** where pages of ours come from */
  origins: readonly string[];
  /** what whoever makes the first administrator from another machine must know */
  setupCode: string | null;
}

export const served = (): Served => ({
  origins: (process.env.BOLIDE_ORIGINS ?? '').split(' ').filter(Boolean),
  setupCode: process.env.BOLIDE_SETUP_CODE ?? null,
});

type HeadersRead = Pick<Headers, 'get'>;

/** The address a request came from. */
export const sourceOf = (headers: HeadersRead): string => headers.get(sourceHeader) ?? '';

/** Whether what is answered can be read by nobody on the way. */
export const isSecure = (headers: HeadersRead): boolean => headers.get(secureHeader) === '1';

/** Whether somebody asks from the machine that the application runs on. */
export const isFromHere = (headers: HeadersRead): boolean => isLoopback(sourceOf(headers));
