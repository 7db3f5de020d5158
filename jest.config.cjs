const swc = [
  '@swc/jest',
  {
    jsc: {
      parser: { syntax: 'typescript', decorators: true },
      transform: { legacyDecorator: true, decoratorMetadata: false },
      keepClassNames: true,
      target: 'es2022',
    },
    module: { type: 'commonjs' },
  },
];
const source = { '^@relvik/(core|formats|contracts|demo)$': '<rootDir>/../$1/src/index.ts' };
const node = (name, extra = {}) => ({
  displayName: name,
  rootDir: `packages/${name}`,
  testEnvironment: 'node',
  testMatch: ['<rootDir>/src/**/*.spec.ts'],
  transform: { '^.+\\.(ts|js)$': swc },
  // Packages that are ES modules only.
  transformIgnorePatterns: [
    'node_modules/(?!(iso-3166|feelin|lezer-feel|min-dash|@lezer|temporal-polyfill|temporal-utils))',
  ],
  moduleNameMapper: source,
  setupFiles: ['<rootDir>/../../scripts/jest-seed.cjs'],
  ...extra,
});

module.exports = {
  projects: [
    node('core'),
    node('formats'),
    node('contracts'),
    node('demo'),
    node('cli'),
    node('server', {
      globalSetup: '<rootDir>/../../scripts/jest-database.mjs',
      globalTeardown: '<rootDir>/../../scripts/jest-database-stop.mjs',
      setupFiles: ['reflect-metadata', '<rootDir>/../../scripts/jest-seed.cjs'],
    }),
    '<rootDir>/packages/web/jest.config.cjs',
  ],
  reporters: ['default', ['<rootDir>/scripts/count-reporter.cjs', { name: 'jest' }]],
  // Machines are shared and noisy: a test's time says nothing of what it tests.
  testTimeout: 240_000,
  maxWorkers: 2,
};
