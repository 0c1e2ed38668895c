/** The table of ARCHITECTURE.md: which house may import which. */
const houses = {
  document: [],
  core: ['document'],
  text: ['core', 'document'],
  level: ['core', 'document'],
  paint: ['core', 'document'],
  checks: ['core', 'document', 'level', 'text'],
  words: ['core', 'document', 'checks'],
  storage: [],
  intake: ['core', 'document', 'level', 'text'],
  runtime: ['core', 'document', 'level', 'paint', 'text'],
  handoff: ['core', 'document', 'level', 'runtime', 'text'],
};
const NO_TEST = '\\.test\\.tsx?$';
const rules = Object.entries(houses).map(([house, may]) => ({
  name: `${house}-imports`,
  severity: 'error',
  comment: `packages/${house} may import ${may.join(', ') || 'no other house'}`,
  from: { path: `^packages/${house}/src`, pathNot: NO_TEST },
  to: { path: '^(packages|apps|demo)/', pathNot: `^packages/(${[house, ...may].join('|')})/` },
}));

/** The floors of the page, from the ground up: a room may import from lower floors, and from itself. */
const FLOORS = [
  ['level'],
  ['state'],
  ['words'],
  ['edits'],
  ['engine'],
  ['questions'],
  ['fields'],
  ['shell'],
  ['bench/picture', 'bench/chain', 'bench/content', 'bench/strip'],
  ['bench/rail'],
  ['bench', 'plan', 'checks', 'feeds', 'handoff', 'projects'],
];
const WEB = '^apps/web/src/';
/** A room's own files, without those of rooms inside of it. */
const inRoom = (room) => `${WEB}${room}/[^/]+$`;
const floors = FLOORS.flatMap((rooms, floor) =>
  rooms.map((room) => ({
    name: `${room}-stands-on-lower-floors`,
    severity: 'error',
    from: { path: inRoom(room), pathNot: NO_TEST },
    to: {
      path: [...FLOORS.slice(floor).flat(), ''].filter((other) => other && other !== room).map(inRoom),
    },
  })),
);

module.exports = {
  forbidden: [
    ...rules,
    ...floors,
    {
      name: 'core-brings-no-package',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: NO_TEST },
      to: { path: 'node_modules', pathNot: '^node_modules/@foreshore' },
    },
    {
      name: 'core-brings-no-schema',
      severity: 'error',
      comment: 'core takes of the document what needs no Zod',
      from: { path: '^packages/core/src', pathNot: NO_TEST },
      to: { path: '^packages/document/src/', pathNot: '^packages/document/src/(types|kinds|order|template|bounds|key-at|uses-feed)\\.ts$' },
    },
    {
      name: 'solving-explains-nothing',
      severity: 'error',
      comment: 'what runs every frame does not bring along what is asked now and then',
      from: { path: '^packages/core/src/(solve|arrange|compile|steps/|layout/)', pathNot: NO_TEST },
      to: { path: '^packages/core/src/explain/' },
    },
    // Imports of types count: they tie files as others do.
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
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
