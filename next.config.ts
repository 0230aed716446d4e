import { existsSync } from 'node:fs';
import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  serverExternalPackages: ['better-sqlite3', 'exceljs'],
  // types are checked by `npm test`, once, for the whole project
  typescript: { ignoreBuildErrors: true },
  devIndicators: false,
  experimental: {
    // a third of the time of a first build goes into what only a second one would use
    turbopackFileSystemCacheForBuild: existsSync('.next/BUILD_ID'),
    // nobody reads them: 40 MB
    turbopackSourceMaps: false,
  },
  // what the API answers is data: nothing in it is ever run, framed or guessed at
  headers: () =>
    Promise.resolve([
      {
        source: '/api/v1/:path*',
        headers: [
          { key: 'content-security-policy', value: "default-src 'none'; frame-ancestors 'none'" },
          { key: 'x-content-type-options', value: 'nosniff' },
          { key: 'referrer-policy', value: 'same-origin' },
        ],
      },
    ]),
};

export default config;
