import { cpus } from 'node:os';

// Tests run as CommonJS through swc while production code is native ESM: Nest's test helpers and
// its CommonJS plugins only meet that way on Node 20 (docs/architecture.md, "Tests").
const swc = (syntax) => [
  '@swc/jest',
  {
    swcrc: false,
    sourceMaps: 'inline',
    module: { type: 'commonjs', ignoreDynamic: true },
    jsc: {
      target: 'es2022',
      keepClassNames: true,
      parser:
        syntax !== 'js' ? { syntax: 'typescript', tsx: syntax === 'tsx', decorators: true } : { syntax: 'ecmascript' },
      transform: {
        react: { runtime: 'automatic' },
        legacyDecorator: true,
        decoratorMetadata: true,
        useDefineForClassFields: false,
      },
    },
  },
];

const base = {
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['wl-source', 'node', 'node-addons'] },
  moduleNameMapper: { '^(\\.{1,2}/.*)\\.js$': ['$1', '$1.js'] },
  transform: { '^.+\\.ts$': swc('ts'), '^.+\\.tsx$': swc('tsx'), '^.+\\.m?js$': swc('js') },
  // Packages that ship ESM only are compiled for the tests.
  transformIgnorePatterns: [
    '/node_modules/(?!@nestjs/|uuid/|cidr-tools/|ip-bigint/|ip-regex/|d3-array/|d3-geo/|internmap/|@turf/)',
  ],
};

const project = (displayName, rootDir) => ({ ...base, displayName, rootDir, testMatch: ['<rootDir>/**/*.test.ts'] });

export default {
  // Only for tests that hang: a busy machine is slow, not wrong.
  testTimeout: 600_000,
  // Much of what runs waits for a database or a process, so there are two more at work than there are cores.
  maxWorkers: 2 + cpus().length,
  testSequencer: './scripts/longestFirst.mjs',
  projects: [
    project('core', 'packages/core'),
    project('standins', 'packages/standins'),
    project('cli', 'apps/cli'),
    // Starts, kills, backs up and restores the application as a user would; it must be built.
    project('scripts', 'scripts'),
    // Pages are tested in Chromium; what can be tested without one is, components in a document of jsdom.
    {
      ...project('web', 'apps/web'),
      testMatch: ['<rootDir>/**/*.test.ts', '<rootDir>/**/*.test.tsx'],
      testEnvironment: 'jsdom',
      testEnvironmentOptions: { customExportConditions: ['wl-source', 'node', 'node-addons'] },
      setupFiles: ['<rootDir>/test/setUp.mjs'],
      setupFilesAfterEnv: ['<rootDir>/test/waiting.mjs'],
    },
    {
      ...project('server', 'apps/server'),
      setupFiles: ['<rootDir>/test/ownSchema.mjs'],
      globalSetup: '<rootDir>/test/startDatabase.mjs',
      globalTeardown: '<rootDir>/test/stopDatabase.mjs',
    },
  ],
};
