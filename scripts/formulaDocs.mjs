/** Writes the list of functions in docs/formulas.md from the functions themselves. */
import { FUNCTIONS } from '@varn/core';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './lib/run.mjs';

const FILE = join(ROOT, 'docs/formulas.md');
const [BEGIN, END] = ['<!-- functions -->', '<!-- /functions -->'];

/** Where OpenFormula (OASIS ODF 1.3 part 4) defines the functions of a group. */
const SECTIONS = {
  logic: ['Logic', '6.15'],
  mathematics: ['Mathematics', '6.16, 6.17'],
  statistics: ['Statistics', '6.18'],
  text: ['Text', '6.20'],
  dates: ['Dates and times', '6.10'],
  lookup: ['Lookup', '6.14'],
  information: ['Information', '6.13'],
};

const signature = (name, { parameters }) => {
  const written = parameters.map(
    ({ name: parameter, optional, repeats }) =>
      `${optional ? `[${parameter}]` : parameter}${repeats ? '…' : ''}`,
  );
  return `\`${name}(${written.join('; ')})\``;
};

const tables = Object.entries(SECTIONS).map(([group, [title, section]]) => {
  const rows = [...FUNCTIONS]
    .filter(([, definition]) => definition.group === group)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, definition]) => {
      const source =
        definition.standing === 'standard' ? `standard, ${section}` : 'common practice';
      return `| ${signature(name, definition)} | ${definition.about} | ${source} |`;
    });
  return `### ${title}\n\n| function | gives | source |\n| --- | --- | --- |\n${rows.join('\n')}`;
});

const text = readFileSync(FILE, 'utf8');
const [before, rest] = text.split(BEGIN);
const after = rest.split(END)[1];
writeFileSync(FILE, `${before}${BEGIN}\n\n${tables.join('\n\n')}\n\n${END}${after}`);
