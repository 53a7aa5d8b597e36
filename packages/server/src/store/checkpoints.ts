import { Logger } from '@nestjs/common';
import { stat } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';

const LOOK_MS = 1000;
/** From this size on what is in the write-ahead log is carried over. */
const WORTH_BYTES = 4 * 1024 * 1024;

/** Runs in a thread of its own: copying pages and flushing them would hold everyone's answers. */
const CARRY_OVER = `
  const { parentPort, workerData } = require('node:worker_threads');
  const SQLite = require(workerData.driver);
  const database = new SQLite(workerData.path, { fileMustExist: true });
  parentPort.on('message', () => {
    database.pragma('wal_checkpoint(PASSIVE)');
    parentPort.postMessage('done');
  });
`;

/**
 * Carries what the write-ahead log holds over into the database file, beside the server. Where
 * writes stream in faster, the one connection that writes does the rest itself
 * (`wal_autocheckpoint` in config.ts).
 */
export class Checkpoints {
  private readonly clock: ReturnType<typeof setInterval>;
  private readonly logger = new Logger('checkpoints');
  private readonly log: string;
  private worker: Worker | null = null;
  private isBusy = false;
  /** Those who wait until a pass is over. */
  private waiting: (() => void)[] = [];

  /** @param path of the database file */
  constructor(private readonly path: string) {
    this.log = `${path}-wal`;
    this.clock = setInterval(() => void this.look(), LOOK_MS);
    this.clock.unref();
  }

  /** Waits until all is carried over that is in the log now. */
  async catchUp(): Promise<void> {
    // The pass under way began before.
    if (this.isBusy) await this.pass();
    const done = this.pass();
    this.carryOver();
    await done;
  }

  async stop(): Promise<void> {
    clearInterval(this.clock);
    await this.worker?.terminate();
  }

  private async look(): Promise<void> {
    const size = await stat(this.log).then(
      (found) => found.size,
      () => 0,
    );
    if (size >= WORTH_BYTES) this.carryOver();
  }

  private carryOver(): void {
    if (this.isBusy) return;
    this.isBusy = true;
    this.worker ??= this.start();
    this.worker.postMessage('carry over');
  }

  private pass(): Promise<void> {
    return new Promise((resolve) => this.waiting.push(resolve));
  }

  private ended(): void {
    this.isBusy = false;
    for (const resolve of this.waiting.splice(0)) resolve();
  }

  private start(): Worker {
    const driver = createRequire(__filename).resolve('better-sqlite3');
    const workerData = { driver, path: this.path };
    const worker = new Worker(CARRY_OVER, { eval: true, workerData });
    worker.unref();
    worker.on('message', () => this.ended());
    // The next look starts another; until then the connection that writes does it.
    worker.on('error', (error) => this.logger.error(error));
    worker.on('exit', () => {
      this.worker = null;
      this.ended();
    });
    return worker;
  }
}
