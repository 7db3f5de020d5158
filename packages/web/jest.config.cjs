const { createCjsPreset } = require('jest-preset-angular/presets');

module.exports = {
  ...createCjsPreset({ tsconfig: '<rootDir>/tsconfig.spec.json' }),
  displayName: 'web',
  testEnvironment: 'jsdom',
  testMatch: ['<rootDir>/src/**/*.spec.ts'],
  setupFiles: ['<rootDir>/../../scripts/jest-seed.cjs'],
  setupFilesAfterEnv: ['<rootDir>/src/jest-setup.ts'],
  moduleNameMapper: {
    '^@relvik/(core|formats|contracts)$': '<rootDir>/../$1/src/index.ts',
    './worker-factory$': '<rootDir>/src/impact/worker-factory.stub.ts',
  },
  transformIgnorePatterns: [
    'node_modules/(?!.*\\.mjs$|d3|internmap|delaunator|robust-predicates|primeng|@primeuix|lezer-feel|@lezer|min-dash)',
  ],
};
