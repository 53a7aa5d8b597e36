import { join } from 'node:path';
import { Database } from './largeData.mjs';
import { signIn, signInAs, startServer } from './server.mjs';

/** Starts a server in a folder with more of the demo's people than it has; each signed in. */
export async function startWithClerks(folder, count) {
  const seeding = await startServer(folder);
  const [{ id: workbookId }] = await (await signIn(seeding.base)).ask('GET', '/api/workbooks');
  await seeding.stop();
  const ids = addClerks(folder, workbookId, count);
  const server = await startServer(folder);
  const people = await Promise.all(ids.map((personId) => signInAs(server.base, personId)));
  return { ...server, workbookId, people };
}

/** Adds people while the server is stopped, and tells their ids. */
function addClerks(folder, workbookId, count) {
  const database = new Database(join(folder, 'varn.sqlite'));
  const account = database.prepare(
    `INSERT INTO account (id, name, email, password_hash, demo) VALUES (?, ?, ?, '-', 1)`,
  );
  const member = database.prepare(`INSERT INTO membership VALUES (?, ?, 'clerk')`);
  const ids = Array.from({ length: count }, (_, n) => `sampler-${n}`);
  for (const [n, id] of ids.entries()) {
    account.run(id, `Sampler ${n + 1}`, `${id}@riverwatch.example`);
    member.run(workbookId, id);
  }
  database.close();
  return ids;
}
