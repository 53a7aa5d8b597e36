/**
 * Which way the arrows of the code may point. `npm run lint` holds them; docs/architecture.md draws
 * them.
 */

/** Packages, each with those it may use. */
const PACKAGES = {
  core: [],
  contract: ['core'],
  files: ['core'],
  server: ['core', 'contract', 'files'],
  web: ['core', 'contract'],
};

/** Folders of a package from the ground up: each may use those before it, and none after it. */
const FLOORS = {
  core: [
    'values',
    'address',
    'format',
    'kinds',
    'sheet',
    'lists',
    'rules',
    'records',
    'intake',
    'formula',
    'forms',
    'outline',
    'search',
    'words',
  ],
  server: [
    'turns',
    'store',
    'http',
    'access',
    'accounts',
    'log',
    'events',
    'calculation',
    'outbox',
    'lists',
    'files',
    'write',
    'listPlace',
    'rules',
    'sheets',
    'search',
    'history',
    'forms',
    'workbooks',
    'uploads',
    'demo',
  ],
  web: [
    'theme',
    'api',
    'ui',
    'keys',
    'signIn',
    'frame',
    'form',
    'sheet',
    'desk',
    'history',
    'lists',
    'bringIn',
    'workbooks',
    'compose',
  ],
};

/** What only the server may use, and what only the web may. */
const SERVER_ONLY = '^(node:|node_modules/(@nestjs|@mikro-orm|@fastify|fastify)/)';
const WEB_ONLY = '^node_modules/(react|react-dom|react-router|@chakra-ui|swr|recharts)/';

const TEST = '(\\.test\\.tsx?$|/testing/)';
const src = (name) => `^packages/${name}/src/`;

const packageRules = Object.entries(PACKAGES).map(([name, uses]) => ({
  name: `${name}-uses-${uses.length === 0 ? 'nothing' : uses.join('-')}`,
  comment: `packages/${name} may use ${uses.join(', ') || 'no other package of ours'}.`,
  severity: 'error',
  from: { path: src(name), pathNot: TEST },
  to: { path: '^packages/', pathNot: [name, ...uses].map((each) => `^packages/${each}/`) },
}));

const floorRules = Object.entries(FLOORS).flatMap(([name, floors]) =>
  floors.slice(0, -1).map((floor, at) => ({
    name: `${name}-${floor}-looks-down`,
    comment: `${floor} may use only the folders before it in FLOORS.`,
    severity: 'error',
    from: { path: `${src(name)}${floor}/`, pathNot: TEST },
    to: { path: `${src(name)}(${floors.slice(at + 1).join('|')})/` },
  })),
);

/** A folder that stands in no list would be held by no rule. */
const unknownFolders = Object.entries(FLOORS).map(([name, floors]) => ({
  name: `${name}-folder-has-a-floor`,
  comment: 'A new folder needs its place in FLOORS.',
  severity: 'error',
  from: {},
  to: { path: `${src(name)}[^/]+/`, pathNot: `${src(name)}(${[...floors, 'testing'].join('|')})/` },
}));

export default {
  forbidden: [
    {
      name: 'no-circles',
      comment: 'Two files that need each other are one, or lack a third.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    ...packageRules,
    ...floorRules,
    ...unknownFolders,
    {
      name: 'core-through-faces',
      comment: 'A folder of core is used through its index.ts, which names what it gives.',
      severity: 'error',
      from: { path: `${src('core')}([^/]+)/`, pathNot: TEST },
      to: {
        path: `${src('core')}[^/]+/`,
        pathNot: [`${src('core')}$1/`, `${src('core')}[^/]+/index\\.ts$`],
      },
    },
    {
      name: 'packages-through-faces',
      comment: 'A package is used through the files its package.json exports.',
      severity: 'error',
      from: { path: '^packages/([^/]+)/' },
      to: {
        path: '^packages/[^/]+/src/',
        pathNot: [
          '^packages/$1/',
          '/src/index\\.ts$',
          '/contract/src/(paths|limits|roles)\\.ts$',
          '/files/src/worker\\.ts$',
          '/core/src/(phones|patterns)\\.ts$',
        ],
      },
    },
    {
      name: 'core-and-contract-run-anywhere',
      severity: 'error',
      from: { path: '^packages/(core|contract)/src/', pathNot: TEST },
      to: { path: [SERVER_ONLY, WEB_ONLY] },
    },
    {
      name: 'server-and-files-show-nothing',
      severity: 'error',
      from: { path: '^packages/(server|files)/src/', pathNot: TEST },
      to: { path: WEB_ONLY },
    },
    {
      name: 'web-runs-in-browsers',
      severity: 'error',
      from: { path: src('web'), pathNot: TEST },
      to: { path: SERVER_ONLY },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|\\.d\\.ts$)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['@varn/source', 'import', 'require', 'node', 'default', 'types'],
    },
  },
};
