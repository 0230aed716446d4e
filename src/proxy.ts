import { NextResponse, type NextRequest } from 'next/server';
import { askedHeader } from './server/access/askedHeader';

/** Every page gets a content security policy with a nonce of its own: no inline script or style element without it. Answers of the API run nothing and have theirs in next.config.ts. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = Buffer.from(crypto.getRandomValues(new Uint8Array(16))).toString('base64');
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    `style-src 'self' 'nonce-${nonce}'`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('content-security-policy', policy);
  // for whoever has to sign in first
  const { pathname, searchParams } = request.nextUrl;
  searchParams.delete('_rsc');
  headers.set(askedHeader, searchParams.size > 0 ? `${pathname}?${searchParams.toString()}` : pathname);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  return response;
}

export const config = {
  matcher: ['/((?!api/v1/|_next/static|_next/image|icon.svg).*)'],
};
