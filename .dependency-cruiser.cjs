// Who may import whom. The picture is in docs/architecture.md.
const mayReach = (from, allowed, name) => ({
  name,
  severity: 'error',
  from: { path: `^src/${from}/` },
  to: { path: '^src/', pathNot: `^src/(${allowed})/` },
})
/** Which rooms of the core a room of it may use: what a thing means never hangs on how it is said. */
const coreRoom = (room, allowed) => ({
  name: `core-${room}`,
  severity: 'error',
  from: { path: `^src/core/${room}/`, pathNot: TEST },
  to: { path: '^src/core/', pathNot: `^src/core/(${[room, ...allowed].join('|')})/` },
})
const TEST = '\\.test\\.tsx?$'

module.exports = {
  forbidden: [
    mayReach('core', 'core|testing', 'core-reaches-nothing'),
    coreRoom('shared', []),
    coreRoom('recommend', ['shared']),
    coreRoom('statistics', ['shared']),
    coreRoom('channels', ['shared']),
    coreRoom('events', ['shared', 'channels']),
    coreRoom('conditions', ['shared', 'channels', 'events']),
    // What a document holds of its messages. What is made of that (merge fields, links) knows the document.
    coreRoom('blocks', ['shared', 'conditions']),
    coreRoom('workflow', ['shared', 'channels', 'events', 'conditions', 'blocks']),
    coreRoom('messages', ['shared', 'channels', 'events', 'conditions', 'blocks', 'workflow']),
    coreRoom('people', ['shared', 'channels', 'events']),
    coreRoom('connections', ['shared', 'events']),
    coreRoom('imports', ['shared', 'events']),
    coreRoom('archive', ['shared', 'conditions', 'blocks', 'messages', 'workflow']),
    coreRoom('coupons', ['shared', 'workflow']),
    coreRoom('reorder', ['shared', 'statistics', 'events']),
    coreRoom('life', ['shared', 'channels', 'events', 'workflow', 'reorder']),
    coreRoom('rehearsal', ['shared', 'events', 'workflow', 'life', 'reorder']),
    coreRoom('experiments', ['shared', 'statistics', 'workflow']),
    coreRoom('forecast', ['shared']),
    coreRoom('standing', ['shared']),
    coreRoom('alerts', ['shared', 'words']),
    coreRoom('words', [
      'shared',
      'experiments',
      'channels',
      'events',
      'conditions',
      'blocks',
      'workflow',
      'messages',
      'coupons',
      'people',
      'rehearsal',
      'reorder',
    ]),
    coreRoom('timetable', ['shared', 'conditions', 'workflow', 'words']),
    // A finding is said where it is found, with a code beside its sentence.
    coreRoom('check', [
      'shared',
      'channels',
      'events',
      'conditions',
      'blocks',
      'workflow',
      'messages',
      'words',
      'life',
      'rehearsal',
    ]),
    coreRoom('recipes', ['shared', 'events', 'conditions', 'blocks', 'workflow', 'messages']),
    mayReach('contract', 'core|contract', 'contract-reaches-core'),
    mayReach(
      'backend',
      'core|contract|backend|testing|simulated',
      'backend-reaches-core-and-contract',
    ),
    mayReach('simulated', 'simulated', 'simulated-services-know-nothing-of-yomble'),
    mayReach(
      'drivers/live',
      'core|contract|backend|drivers/live|testing|simulated|worker|server|demo',
      'live-reaches-core-and-backend',
    ),
    {
      name: 'only-tests-and-the-demo-use-simulated-services',
      severity: 'error',
      from: { path: '^src/(?!demo/|testing/|simulated/)', pathNot: TEST },
      to: { path: '^src/simulated/' },
    },
    {
      name: 'live-code-does-not-reach-up',
      severity: 'error',
      from: { path: '^src/drivers/live/', pathNot: TEST },
      to: { path: '^src/(server|worker|web|demo|simulated|contract)/' },
    },
    mayReach(
      'drivers/past',
      'core|contract|backend|drivers/(live|past)|testing',
      'the-past-reaches-core-backend-and-live',
    ),
    mayReach(
      'drivers/people',
      'core|contract|backend|drivers/(live|people)|testing',
      'people-reach-core-backend-and-live',
    ),
    mayReach(
      'drivers/preview',
      'core|backend|drivers|testing',
      'previews-reach-core-backend-and-drivers',
    ),
    mayReach(
      'cli',
      'core|contract|backend|drivers|server|worker|commands|cli|testing|simulated',
      'the-command-line-reaches-everything-but-screens',
    ),
    mayReach('commands', 'core|commands|testing', 'commands-reach-core'),
    mayReach('worker', 'core|backend|drivers|worker|testing|simulated', 'worker-reaches-down'),
    mayReach('server', 'core|contract|backend|drivers|server|testing', 'server-reaches-down'),
    mayReach('web', 'core|contract|web|testing', 'web-reaches-core-and-contract'),
    {
      name: 'core-and-web-use-no-node',
      severity: 'error',
      from: { path: '^src/(core|contract|web)/', pathNot: TEST },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-uses-only-pure-packages',
      severity: 'error',
      from: { path: '^src/core/', pathNot: TEST },
      to: {
        path: 'node_modules/',
        pathNot: 'node_modules/(zod|temporal-polyfill|fastest-levenshtein|jstat|bcp-47-match)/',
      },
    },
    {
      name: 'backend-rooms-meet-at-their-index',
      severity: 'error',
      from: { path: '^src/backend/([^/]+)/', pathNot: TEST },
      to: {
        path: '^src/backend/',
        // Or at the file that owns a table: through an index, rooms that read each other make circles.
        pathNot: '^src/backend/($1|platform)/|/(index|tables|store|queue|ledger)\\.ts$',
      },
    },
    {
      name: 'web-rooms-meet-in-app',
      severity: 'error',
      from: { path: '^src/web/(?!app/|testing/)([^/]+)/' },
      to: { path: '^src/web/', pathNot: '^src/web/($1|ui|testing)/' },
    },
    {
      name: 'web-uses-no-server-packages',
      severity: 'error',
      from: { path: '^src/(web|contract)/' },
      to: {
        path: 'node_modules/(@fastify|fastify|pg|drizzle-orm|graphile-worker|nodemailer|pino)/',
      },
    },
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'nobody-imports-tests',
      severity: 'error',
      from: { pathNot: `${TEST}|^src/(web/)?testing/` },
      to: { path: `${TEST}|^src/(web/)?testing/` },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
    },
    exclude: { path: '\\.css$' },
  },
}
