import { must } from './run.mjs';

/** Compiles the thread in which files are read, for the unit tests: it runs outside of Jest. */
export default function compileThread() {
  must('Compiling the reading thread', 'npx', ['tsc', '-b', 'packages/files/tsconfig.build.json']);
}
