const swc = [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'commonjs' },
  },
];
const shared = {
  transform: { '^.+\\.(t|j)sx?$': swc },
  transformIgnorePatterns: ['/node_modules/(?!(three|immer)/)'],
  testEnvironment: 'node',
  extensionsToTreatAsEsm: [],
};
const config = {
  projects: [
    {
      ...shared,
      displayName: 'unit',
      // Looked up in each test's own world, it makes sums over sound several times slower.
      sandboxInjectedGlobals: ['Math'],
      testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/scripts/**/*.test.ts'],
    },
    {
      ...shared,
      displayName: 'e2e',
      testMatch: ['<rootDir>/e2e/**/*.test.ts'],
      setupFilesAfterEnv: ['<rootDir>/e2e/setup.ts'],
      globalTeardown: '<rootDir>/e2e/leftovers.ts',
    },
  ],
  testTimeout: 420000,
};
export default config;
