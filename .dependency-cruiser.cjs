// The floors of the house (docs/architecture.md): nothing imports upwards, and no circle anywhere.
const floors = [
  ['result', 'address', 'working', 'yaml'],
  ['weighing'],
  ['zones'],
  ['plan'],
  ['section'],
  ['domains', 'sizing', 'wire'],
  ['verdicts', 'money'],
  ['starter'],
  ['allocation'],
  ['podnetwork', 'templates'],
  ['road'],
  ['forwarding'],
  ['reach'],
  ['english'],
  ['naming'],
  ['egress', 'ingress'],
  ['request'],
  ['crosscluster'],
  ['findings', 'load', 'lookup'],
  ['evaluation'],
  ['exchange', 'manifests'],
  ['rehearsal'],
  ['handover'],
  ['demo'],
];
const core = '^packages/core/src/';
const upwards = floors.slice(0, -1).map((names, i) => ({
  name: `core-floor-${names.join('-')}`,
  comment: 'A lower floor of the core knows nothing of those above it.',
  severity: 'error',
  from: { path: `${core}(${names.join('|')})(/|\\.ts$)`, pathNot: '\\.test\\.ts$' },
  to: {
    path: `${core}(${floors
      .slice(i + 1)
      .flat()
      .join('|')})/`,
  },
}));

module.exports = {
  forbidden: [
    {
      name: 'no-circle',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    { name: 'nothing-unresolved', severity: 'error', from: {}, to: { couldNotResolve: true } },
    ...upwards,
    {
      name: 'core-has-no-io',
      comment: 'The core runs in browsers, worker threads and the command line alike.',
      severity: 'error',
      from: { path: core, pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    { name: 'packages-know-no-app', severity: 'error', from: { path: '^packages/' }, to: { path: '^apps/' } },
    {
      name: 'core-knows-no-stand-in',
      severity: 'error',
      from: { path: '^packages/core' },
      to: { path: '^packages/standins' },
    },
    {
      name: 'apps-apart',
      severity: 'error',
      from: { path: '^apps/([^/]+)/' },
      to: { path: '^apps/', pathNot: '^apps/$1/' },
    },
    {
      name: 'core-by-its-door',
      comment: 'Applications use the core by its doors, one for each folder.',
      severity: 'error',
      from: { path: '^(apps|e2e|bench|packages/standins)/' },
      to: { path: '^packages/core/src/', pathNot: '^packages/core/src/([^/]+/index|result)\\.ts$' },
    },
    {
      name: 'slices-know-no-page',
      severity: 'error',
      from: { path: '^apps/web/src/worker/' },
      to: {
        path: '^apps/web/src/(app|board|ground|demand|ranges|egress|findings|history|handover|plans|plan|shared)/',
      },
    },
    {
      name: 'shared-knows-no-view',
      severity: 'error',
      from: { path: '^apps/web/src/shared/' },
      to: { path: '^apps/web/src/(board|ground|demand|ranges|egress|findings|history|handover|plans)/' },
    },
    {
      name: 'tests-are-not-imported',
      severity: 'error',
      from: { pathNot: '\\.(test|spec)\\.ts$' },
      to: { path: '\\.(test|spec)\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/|\\?' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      conditionNames: ['wl-source', 'import', 'require', 'node', 'default', 'types'],
      exportsFields: ['exports'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.css', '.d.ts'],
    },
  },
};
