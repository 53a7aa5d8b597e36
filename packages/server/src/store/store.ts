import type { SqlEntityManager } from '@mikro-orm/better-sqlite';
import { MikroORM } from '@mikro-orm/core';
import { Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import SQLite, { type Database, type Statement } from 'better-sqlite3';
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
    const path = this.orm.config.get('dbName') ?? MEMORY;
    if (path === MEMORY) return this.withConnection(work);
    this.reader ??= new SQLite(path, { readonly: true, fileMustExist: true });
    return work(this.reader);
  }

  onApplicationShutdown(): void {
    this.reader?.close();
    this.reader = null;
  }

  /** As `withConnection`, of work that pauses: whoever needs that connection waits until it is done. */
  async holdingConnection<T>(work: (database: Database) => Promise<T>): Promise<T> {
    const pool = this.em().getConnection().getKnex().client as Pool;
    const database = await pool.acquireConnection();
    try {
      return await work(database);
    } finally {
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
