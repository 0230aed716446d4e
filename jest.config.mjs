const common = {
  transform: {
    '^.+\\.[cm]?[jt]sx?$': [
      '<rootDir>/scripts/quickGlobals.mjs',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } }, module: { type: 'es6' } },
    ],
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(drizzle-orm|yup|fast-check|pure-rand|ipaddr.js|better-sqlite3|ws|re2js)/)',
  ],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
};

export default {
  projects: [
    { ...common, displayName: 'unit', testMatch: ['<rootDir>/src/**/*.test.ts'] },
    {
      ...common,
      displayName: 'e2e',
      testMatch: ['<rootDir>/e2e/**/*.test.ts'],
      setupFilesAfterEnv: ['<rootDir>/e2e/support/answersFit.ts'],
    },
  ],
  testTimeout: 120_000,
  testSequencer: './scripts/longestFirst.mjs',
};
