/** The table of ARCHITECTURE.md: which house may import which. */
const houses = {
  document: [],
  core: ['document'],
  text: ['core', 'document'],
  level: ['core'],
  paint: ['core'],
  checks: ['core', 'document', 'level', 'text'],
};
const rules = Object.entries(houses).map(([house, may]) => ({
  name: `${house}-imports`,
  severity: 'error',
  comment: `packages/${house} may import ${may.join(', ') || 'no other house'}`,
  from: { path: `^packages/${house}/src`, pathNot: '\\.test\\.ts$' },
  to: { path: '^(packages|apps|demo)/', pathNot: `^packages/(${[house, ...may].join('|')})/` },
}));
module.exports = {
  forbidden: [
    ...rules,
    {
      name: 'core-takes-only-types-and-order',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { path: 'node_modules', pathNot: '^node_modules/@foreshore' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    { name: 'apps-are-not-imported', severity: 'error', from: { path: '^(packages|demo)/' }, to: { path: '^apps/' } },
    {
      name: 'three-draws-the-level-only',
      severity: 'error',
      from: { pathNot: '^apps/web/src/level/' },
      to: { path: 'node_modules/three/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default'] },
  },
};
