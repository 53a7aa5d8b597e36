import { resolve } from 'node:path';

/** What the environment sets. */
export interface Settings {
  /** The folder of the database and of files that wait to be brought in. */
  readonly data: string;
  readonly host: string;
  readonly port: number;
  /** Whether the demo is loaded and its people offered on the sign-in page. */
  readonly demo: boolean;
  /** How many samples the demo is loaded with; the scenario's own number when `null`. */
  readonly demoSamples: number | null;
  /** Scheme and host that browsers see, when something stands before the server. */
  readonly origin: string | null;
  /** How many proxies stand before the server, whose word on a request's address is taken. */
  readonly proxies: number;
  /** From which level on is logged (pino's names). */
  readonly logLevel: string;
  /** The largest file that may be brought in, in bytes. */
  readonly mostUploadBytes: number;
  /** The largest file a form takes, in bytes. */
  readonly mostFileBytes: number;
  /** The folder of the built web application, or `null` to serve the API alone. */
  readonly web: string | null;
}

/** The token under which Nest hands the settings out. */
export const SETTINGS = Symbol('settings');

const MEGABYTE = 1024 * 1024;

/** Reads settings from environment variables. @throws Error naming the one that is not right */
export function settingsFrom(env: NodeJS.ProcessEnv): Settings {
  return {
    data: resolve(env['VARN_DATA'] ?? 'data'),
    host: env['VARN_HOST'] ?? '127.0.0.1',
    port: wholeNumber(env, 'VARN_PORT', 4180, 65_535),
    demo: env['VARN_DEMO'] === '1',
    demoSamples: wholeNumber(env, 'VARN_DEMO_SAMPLES', 0, 10_000_000) || null,
    origin: originIn(env),
    proxies: wholeNumber(env, 'VARN_PROXIES', 0, 10),
    logLevel: env['VARN_LOG'] ?? 'info',
    mostUploadBytes: wholeNumber(env, 'VARN_UPLOAD_MB', 1024, 1_000_000) * MEGABYTE,
    mostFileBytes: wholeNumber(env, 'VARN_FILE_MB', 25, 10_000) * MEGABYTE,
    web: resolve(__dirname, '../../web/dist'),
  };
}

function originIn({ VARN_ORIGIN: text = '' }: NodeJS.ProcessEnv): string | null {
  if (text === '') return null;
  const url = URL.canParse(text) ? new URL(text) : null;
  const isOrigin = url?.protocol === 'https:' || url?.protocol === 'http:';
  if (!isOrigin || url.origin !== text.replace(/\/$/, '')) {
    throw new Error(
      `VARN_ORIGIN is ‘${text}’; it must be a scheme and a host such as https://forms.example.org`,
    );
  }
  return url.origin;
}

function wholeNumber(env: NodeJS.ProcessEnv, name: string, usual: number, most: number): number {
  const text = env[name];
  if (text === undefined || text === '') return usual;
  const value = Number(text);
  if (!Number.isInteger(value) || value < 0 || value > most) {
    throw new Error(`${name} is ‘${text}’; it must be a whole number from 0 to ${most}`);
  }
  return value;
}
