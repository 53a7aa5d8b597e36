import { FUNCTIONS } from '@varn/core';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

test('docs/formulas.md lists every function, its standing and its source', () => {
  const docs = readFileSync(join(__dirname, '../../../docs/formulas.md'), 'utf8').split('\n');
  const wrong = [...FUNCTIONS].filter(([name, { standing, about }]) => {
    const line = docs.find((each) => each.startsWith(`| \`${name}(`)) ?? '';
    return !line.includes(about) || !line.includes(`| ${standing}`);
  });
  expect(wrong.map(([name]) => name)).toEqual([]);
});
