import type { SqlEntityManager } from '@mikro-orm/better-sqlite';
import { MikroORM } from '@mikro-orm/core';
import { Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import SQLite, { type Database, type Statement } from 'better-sqlite3';
import { Checkpoints } from './checkpoints';
import { MOST_LOGGED_PAGES } from './config';
import { bringUpToDate } from './migrator';

/** The pool of the one connection, as far as it is used here. */
interface Pool {
  acquireConnection(): Promise<Database>;
  releaseConnection(connection: Database): Promise<void>;
}

const MEMORY = ':memory:';
/** The database: entities by MikroORM for what is rare, the bare connection for what is hot. */
@Injectable()
export class Store implements OnModuleInit, OnApplicationShutdown {
  private readonly logger = new Logger('store');
  private opening: Promise<void> | null = null;
  private reader: Database | null = null;
  private checkpoints: Checkpoints | null = null;
  /** Large writes whose pages are in the log still. */
  private uncarried = 0;
  private isClosed = false;
  private readonly statements = new WeakMap<Database, Map<string, Statement>>();

  constructor(private readonly orm: MikroORM) {}

  onModuleInit(): Promise<void> {
    return this.open();
  }

  /** Brings the schema up to date, once. @throws Error when the file is of a newer Varn */
  open(): Promise<void> {
    this.opening ??= this.migrate();
    return this.opening;
  }

  private async migrate(): Promise<void> {
    const steps = await bringUpToDate(this.orm);
    if (steps > 0) this.logger.log(`schema brought up by ${steps} steps`);
    const { path } = this;
    if (path !== MEMORY) this.checkpoints = new Checkpoints(path);
  }

  private get path(): string {
    return this.orm.config.get('dbName', MEMORY);
  }

  /** An entity manager of its own, to read with. */
  em(): SqlEntityManager {
    return this.orm.em.fork() as SqlEntityManager;
  }

  /** Runs rare writes in one transaction; await nothing slow inside. */
  transaction<T>(work: (em: SqlEntityManager) => Promise<T>): Promise<T> {
    // Not `em.transactional`, and no unit of work to flush: both turn on async hooks, which every
    // promise of every later request would pay for. Work inserts and updates by name.
    const em = this.em();
    return em.getConnection().transactional((transaction) => {
      em.setTransactionContext(transaction);
      return work(em);
    });
  }

  /**
   * Runs work on the bare connection, at once and undisturbed: no transaction of another is open
   * meanwhile, and none may be left open.
   */
  async withConnection<T>(work: (database: Database) => T): Promise<T> {
    const pool = this.em().getConnection().getKnex().client as Pool;
    const database = await pool.acquireConnection();
    try {
      return work(database);
    } finally {
      await pool.releaseConnection(database);
    }
  }

  /**
   * Reads what is on disk, at once: also while a large write is under way on the other connection.
   */
  async reading<T>(work: (database: Database) => T): Promise<T> {
    const { path } = this;
    if (path === MEMORY) return this.withConnection(work);
    this.reader ??= new SQLite(path, { readonly: true, fileMustExist: true });
    return work(this.reader);
  }

  async onApplicationShutdown(): Promise<void> {
    this.isClosed = true;
    this.reader?.close();
    this.reader = null;
    await this.checkpoints?.stop();
  }

  /**
   * As `withConnection`, of work that takes its time and writes much by another connection: whoever
   * needs this one waits until it is done.
   */
  async holdingConnection<T>(work: (database: Database) => Promise<T>): Promise<T> {
    const pool = this.em().getConnection().getKnex().client as Pool;
    const database = await pool.acquireConnection();
    this.uncarried += 1;
    try {
      // What it leaves in the log takes seconds to be carried over: no commit is to do that itself.
      database.pragma('wal_autocheckpoint = 0');
      return await work(database);
    } finally {
      await pool.releaseConnection(database);
      void this.carryOver().catch((error: unknown) => this.logger.error(error));
    }
  }

  /** Has what a large write left in the log carried over, after which commits do so themselves again. */
  private async carryOver(): Promise<void> {
    await this.checkpoints?.catchUp();
    this.uncarried -= 1;
    if (this.uncarried > 0 || this.isClosed) return;
    await this.withConnection((database) =>
      database.pragma(`wal_autocheckpoint = ${MOST_LOGGED_PAGES}`),
    );
  }

  /** A prepared statement, prepared once. */
  statement(database: Database, sql: string): Statement {
    let prepared = this.statements.get(database);
    if (!prepared) {
      prepared = new Map();
      this.statements.set(database, prepared);
    }
    let statement = prepared.get(sql);
    if (!statement) {
      statement = database.prepare(sql);
      prepared.set(sql, statement);
    }
    return statement;
  }
}
