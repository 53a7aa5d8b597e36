import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

export const MAIN = join(__dirname, '../../server/dist/main.js');
const PATIENCE_MS = 60_000;

/** What the browser of the tests takes for this machine, over a plain connection. */
export const OFFICE_NAME = 'office.riverwatch.example';

/** The built server, as its users run it, on a folder and a port of its own. */
export class Server {
  private process: ChildProcess | null = null;

  private constructor(
    readonly folder: string,
    private readonly port: number,
    private readonly env: Record<string, string>,
    private readonly name: string | null,
  ) {}

  /** Starts a server with the demo in it. @param name what people call it, where it is another */
  static async withDemo(env: Record<string, string> = {}, name?: string): Promise<Server> {
    const folder = mkdtempSync(join(tmpdir(), 'varn-e2e-'));
    const server = new Server(folder, await freePort(), env, name ?? null);
    await server.start();
    return server;
  }

  /** The address people see. */
  get origin(): string {
    return `http://${this.name ?? 'localhost'}:${this.port}`;
  }

  get base(): string {
    return `http://localhost:${this.port}`;
  }

  async start(): Promise<void> {
    const { folder, port } = this;
    this.process = spawn(process.execPath, [MAIN], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: {
        ...process.env,
        VARN_DATA: folder,
        VARN_PORT: String(port),
        VARN_DEMO: '1',
        VARN_LOG: 'warn',
        ...(this.name !== null && { VARN_ORIGIN: this.origin }),
        ...this.env,
      },
    });
    const until = Date.now() + PATIENCE_MS;
    while (Date.now() < until) {
      const answered = await fetch(`${this.base}/api/health`).then(
        ({ ok }) => ok,
        () => false,
      );
      if (answered) return;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    throw new Error('the server does not answer');
  }

  /** Stops it in good order (SIGTERM), or as a crash would (SIGKILL). */
  async stop(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<number | null> {
    const running = this.process;
    if (!running) return null;
    this.process = null;
    const ended = once(running, 'exit');
    running.kill(signal);
    const [code] = (await ended) as [number | null];
    return code;
  }

  async remove(): Promise<void> {
    await this.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

async function freePort(): Promise<number> {
  const probe = createServer().listen(0);
  await once(probe, 'listening');
  const { port } = probe.address() as AddressInfo;
  probe.close();
  await once(probe, 'close');
  return port;
}
