import type { SqlEntityManager } from '@mikro-orm/better-sqlite';
import { MikroORM } from '@mikro-orm/core';
import { Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import SQLite, { type Database, type Statement } from 'better-sqlite3';
import { Checkpoints } from './checkpoints';
import { CACHE_SIZE } from './config';
import { bringUpToDate } from './migrator';

/** The pool of the one connection, as far as it is used here. */
interface Pool {
  acquireConnection(): Promise<Database>;
  releaseConnection(connection: Database): Promise<void>;
}

const MEMORY = ':memory:';
/**
 * What a large write keeps in memory, in negative kibibytes as SQLite has it: what it changes beyond
 * that goes to the write-ahead log as it comes.
 */
const LARGE_WRITE_CACHE = -2048;

/** The database: entities by MikroORM for what is rare, the bare connection for what is hot. */
@Injectable()
export class Store implements OnModuleInit, OnApplicationShutdown {
  private readonly logger = new Logger('store');
  private opening: Promise<void> | null = null;
  private reader: Database | null = null;
  private checkpoints: Checkpoints | null = null;
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
    this.reader?.close();
    this.reader = null;
    await this.checkpoints?.stop();
  }

  /**
   * As `withConnection`, of work that pauses: whoever needs that connection waits until it is done.
   * What it changes goes to disk as it comes, and little is left for the commit.
   *
   * @param work told how to have what it changed so far flushed
   */
  async holdingConnection<T>(
    work: (database: Database, flush: () => Promise<void>) => Promise<T>,
  ): Promise<T> {
    const pool = this.em().getConnection().getKnex().client as Pool;
    const database = await pool.acquireConnection();
    try {
      database.pragma(`cache_size = ${LARGE_WRITE_CACHE}`);
      return await work(database, async () => this.checkpoints?.flush());
    } finally {
      database.pragma(`cache_size = ${CACHE_SIZE}`);
      await pool.releaseConnection(database);
    }
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
