import { FUNCTIONS, readOutline } from '@varn/core';
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

test('the examples of docs/outline.md are read without a problem', () => {
  const docs = readFileSync(join(__dirname, '../../../docs/outline.md'), 'utf8');
  const examples = [...docs.matchAll(/```outline\n(.*?)```/gs)].map(([, text]) => text ?? '');
  expect(examples.length).toBeGreaterThan(1);
  for (const text of examples) {
    let n = 0;
    const { problems, definition } = readOutline(text, { columns: [], newId: () => `${(n += 1)}` });
    expect([text, problems]).toEqual([text, []]);
    expect(definition.blocks.length).toBeGreaterThan(2);
  }
});
