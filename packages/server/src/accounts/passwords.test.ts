import { hash } from '@node-rs/argon2';
import { passwordProblem } from './passwordProblem';
import { hashPassword, passwordMatches } from './passwords';

test.each([
  ['short1word', /under 12 characters/],
  ['aaaaaaaaaaaa', /repeats/],
  ['121212121212', /repeats/],
  ['Password1234', /easy to guess/],
  ['passwordpassword', /easy to guess/],
  ['!!sunshine2026', /easy to guess/],
  ['kingfisher', /under 12/],
  ['two herons on the far bank', null],
  ['Ein Fluß, drei Brücken', null],
  ['水の流れと橋の下の白い鳥たち', null],
])('the password %s', (password, problem) => {
  if (problem) expect(passwordProblem(password)).toMatch(problem);
  else expect(passwordProblem(password)).toBeNull();
});

test('a password is the same however a keyboard composes it; one kept as it was typed still opens', async () => {
  const [composed, decomposed] = ['Brücke über den Bach', 'Bru\u0308cke u\u0308ber den Bach'];
  const kept = await hashPassword(composed);
  expect(await passwordMatches(kept, decomposed)).toBe(true);
  expect(await passwordMatches(kept, 'Brucke uber den Bach')).toBe(false);
  expect(await passwordMatches(await hash(decomposed), decomposed)).toBe(true);
  expect(await passwordMatches(null, composed)).toBe(false);
});
