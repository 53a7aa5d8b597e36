import { createApp } from './app';
import { settingsFrom } from './settings';

/** Starts the server; ends with a plain sentence when it can't. */
async function main(): Promise<void> {
  const settings = settingsFrom(process.env);
  const app = await createApp(settings);
  await app.listen(settings.port, settings.host);
  const address = settings.origin ?? (await app.getUrl()).replace('127.0.0.1', 'localhost');
  process.stdout.write(`Varn is at ${address}\n`);
}

main().catch((error: unknown) => {
  process.stderr.write(
    `Varn could not start: ${error instanceof Error ? error.message : String(error)}\n`,
  );
  process.exit(1);
});
