import { SignIn } from '@varn/contract';
import { plainToInstance } from 'class-transformer';
import { validateSync } from 'class-validator';
import { createInterface } from 'node:readline/promises';
import { createApp } from '../app';
import { newId } from '../ids';
import { settingsFrom } from '../settings';
import { Account } from '../store/entities';
import { Store } from '../store/store';
import { passwordProblem, SHORTEST_PASSWORD } from './passwordProblem';
import { hashPassword } from './passwords';

/** Adds an account to the data folder: `addAccount NAME ADDRESS`, the password on standard input. */
async function main([name = '', address = '']: string[]): Promise<void> {
  const email = address.trim().toLowerCase();
  const prompt = createInterface({ input: process.stdin, output: process.stdout });
  const password = await prompt.question(
    `Password for ${email} (at least ${SHORTEST_PASSWORD} characters): `,
  );
  prompt.close();
  const [problem] = validateSync(plainToInstance(SignIn, { email, password }));
  if (name.trim() === '')
    throw new Error(
      'Say the name and the mail address: npm run account -- "Name" name@place.example',
    );
  if (problem) throw new Error(Object.values(problem.constraints ?? {}).join('. '));
  const weakness = passwordProblem(password);
  if (weakness !== null) throw new Error(weakness);

  const app = await createApp({
    ...settingsFrom(process.env),
    demo: false,
    web: null,
    logLevel: 'error',
  });
  await app.init();
  const em = app.get(Store).em();
  const isTaken = (await em.count(Account, { email })) > 0;
  if (!isTaken) {
    await em.insert(Account, {
      id: newId(),
      name: name.trim(),
      email,
      passwordHash: await hashPassword(password),
      demo: false,
    });
  }
  await app.close();
  if (isTaken) throw new Error(`${email} has an account already.`);
  process.stdout.write(`\n${name.trim()} may sign in as ${email}.\n`);
}

main(process.argv.slice(2)).catch((error: unknown) => {
  process.stderr.write(`\n${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
});
