import { createApp } from './app';
import { settingsFrom, type Settings } from './settings';
import { checkDatabase, claimDataFolder } from './store/dataFolder';

/** Starts the server; ends with a plain sentence when it can't. */
async function main(): Promise<void> {
  const settings = settingsFrom(process.env);
  claimDataFolder(settings.data, addressOf(settings));
  checkDatabase(settings.data);
  const app = await createApp(settings);
  await app.listen(settings.port, settings.host);
  const address = settings.origin ?? (await app.getUrl()).replace('127.0.0.1', 'localhost');
  process.stdout.write(`Varn is at ${address}\n`);
}

const addressOf = ({ origin, host, port }: Settings): string =>
  origin ?? `http://${host === '127.0.0.1' ? 'localhost' : host}:${port}`;

main().catch((error: unknown) => {
  process.stderr.write(
    `Varn could not start: ${error instanceof Error ? error.message : String(error)}\n`,
  );
  process.exit(1);
});
