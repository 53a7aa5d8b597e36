/**
 * Unit tests read the packages' sources; only the thread in which files are read is compiled first,
 * as it runs outside of Jest.
 */
const project = (name) => ({
  displayName: name,
  setupFiles: [
    '<rootDir>/../../core/src/phones.ts',
    '<rootDir>/../../core/src/patterns.ts',
    ...(name === 'web' ? ['<rootDir>/testing/platform.ts'] : []),
  ],
  ...(name === 'web' && { setupFilesAfterEnv: ['<rootDir>/testing/waiting.ts'] }),
  rootDir: `packages/${name}/src`,
  testEnvironment: 'node',
  testEnvironmentOptions: {
    customExportConditions: ['@varn/source', 'node', 'require', 'default'],
  },
  moduleNameMapper: { '^\\./workerFile$': '<rootDir>/../../files/src/testing/workerFile.ts' },
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', decorators: true, tsx: true },
          transform: {
            react: { runtime: 'automatic' },
            legacyDecorator: true,
            decoratorMetadata: true,
            useDefineForClassFields: false,
          },
          keepClassNames: true,
        },
        module: { type: 'commonjs' },
      },
    ],
  },
});

export default {
  globalSetup: './scripts/lib/compileThread.mjs',
  // A busy machine starts a server in more than the usual five seconds.
  testTimeout: 30_000,
  projects: ['core', 'contract', 'files', 'server', 'web'].map(project),
};
