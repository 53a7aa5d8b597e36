/**
 * Installs what is missing, Chromium included, then runs everything: lint, types, unit tests, the
 * build, end-to-end tests, and each bench once at a tiny size. Writes test-results/summary.json: how many passed and failed.
 */
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { buildAll } from './lib/build.mjs';
import { ensureChromium, ensureInstalled } from './lib/install.mjs';
import { ROOT, run, runBeside } from './lib/run.mjs';

const RESULTS = join(ROOT, 'test-results');
const UNIT = join(RESULTS, 'unit.json');
const E2E = join(RESULTS, 'e2e.json');
const BENCH = join(RESULTS, 'bench.json');
const NOTHING_RAN = { passed: 0, failed: 0 };
/** Characters told of a page on which a test failed, and of what failed on it. */
const MOST_OF_A_PAGE = 8000;
const MOST_OF_A_FAILURE = 1500;

ensureInstalled();
ensureChromium();
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS, { recursive: true });

// Neither needs the other, and each keeps one core busy.
const beside = ['lint', 'types'].map((name) => [name, runBeside('npm', ['run', '-s', name])]);

const suites = [
  ...beside.map(([name, running]) => [name, async () => check(await running)]),
  ['unit', () => counted(run('npx', ['jest', '--json', '--outputFile', UNIT]), unitCounts)],
  [
    'e2e',
    async () => {
      await buildAll();
      const counts = counted(run('npm', ['run', '-s', 'e2e'], { VARN_E2E_JSON: E2E }), e2eCounts);
      if (counts.failed > 0) showPages();
      return counts;
    },
  ],
  [
    'bench',
    () => counted(run('node', ['scripts/bench.mjs', '--tiny']), () => read(BENCH) ?? NOTHING_RAN),
  ],
];

function check({ code, said }) {
  process.stdout.write(said);
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 };
}

/** A suite that ended badly has failed at least once, whatever it counted; so has one that ran nothing. */
function counted(code, counts) {
  const { passed, failed } = counts();
  return { passed, failed: code === 0 && passed + failed > 0 ? failed : Math.max(1, failed) };
}

function read(path) {
  return existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : null;
}

function unitCounts() {
  const told = read(UNIT);
  return {
    passed: told?.numPassedTests ?? 0,
    failed: (told?.numFailedTests ?? 0) + (told?.numRuntimeErrorTestSuites ?? 0),
  };
}

function e2eCounts() {
  const { expected = 0, flaky = 0, unexpected = 0 } = read(E2E)?.stats ?? {};
  return { passed: expected, failed: unexpected + flaky };
}

/** What stood on the page where a test failed: a run whose files are gone tells of it as well. */
function showPages() {
  const folder = join(RESULTS, 'e2e');
  if (!existsSync(folder)) return;
  for (const test of readdirSync(folder)) {
    const page = join(folder, test, 'error-context.md');
    if (existsSync(page)) console.log(`\n${readFileSync(page, 'utf8').slice(0, MOST_OF_A_PAGE)}`);
  }
}

/** Every unit test that failed, by its full name, with what it said. */
function unitFailures() {
  return (read(UNIT)?.testResults ?? []).flatMap(({ assertionResults, message, status }) => {
    const failed = assertionResults.filter((test) => test.status === 'failed');
    if (failed.length === 0) return status === 'failed' ? [['a file of unit tests', message]] : [];
    return failed.map(({ fullName, failureMessages }) => [fullName, failureMessages[0]]);
  });
}

/** Every end-to-end test that failed, by its file and title, with what it said. */
function e2eFailures() {
  const specsOf = ({ specs = [], suites: inner = [] }) => [...specs, ...inner.flatMap(specsOf)];
  return specsOf(read(E2E) ?? {})
    .filter(({ ok }) => !ok)
    .map(({ file, line, title, tests }) => [
      `${file}:${line} › ${title}`,
      tests
        .flatMap(({ results }) => results.flatMap(({ errors }) => errors))
        .map(({ message }) => message)
        .join('\n'),
    ]);
}

/** What failed, told last: who sees only the end of a long run sees that. */
function showFailures() {
  const failures = [...unitFailures(), ...e2eFailures()];
  if (failures.length > 0) console.log('\n== what failed ==');
  for (const [title, said = 'Nothing was said.'] of failures) {
    console.log(`\n${title}\n${stripVTControlCharacters(said).slice(0, MOST_OF_A_FAILURE)}`);
  }
}

const summary = { passed: 0, failed: 0 };
for (const [name, suite] of suites) {
  console.log(`\n== ${name} ==`);
  const { passed, failed } = await suite();
  console.log(`== ${name}: ${passed} passed, ${failed} failed ==`);
  summary.passed += passed;
  summary.failed += failed;
}
writeFileSync(join(RESULTS, 'summary.json'), JSON.stringify(summary));
showFailures();
console.log(`\nAll suites: ${summary.passed} passed, ${summary.failed} failed.`);
process.exit(summary.failed === 0 && summary.passed > 0 ? 0 : 1);
