import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { keepOnDisk } from '../files/keepOnDisk';
import { Refused } from '../http/refused';
import { newId } from '../ids';
import { SETTINGS, type Settings } from '../settings';
import { Upload } from '../store/entities';
import { Store } from '../store/store';

const DAY_MS = 86_400_000;

/** Files that wait to be brought in, each its uploader's alone, for a day at most. */
@Injectable()
export class UploadStore implements OnModuleInit {
  private readonly folder: string;

  constructor(
    private readonly store: Store,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    this.folder = join(settings.data, 'uploads');
  }

  /** Makes the folder and clears away what waited too long, or was cut off on its way. */
  async onModuleInit(): Promise<void> {
    await this.store.open();
    await mkdir(this.folder, { recursive: true });
    await this.store.em().nativeDelete(Upload, { at: { $lt: Date.now() - DAY_MS } });
    const waiting = new Set((await this.store.em().find(Upload, {})).map(({ id }) => id));
    for (const name of await readdir(this.folder)) {
      if (!waiting.has(name)) await rm(join(this.folder, name), { force: true });
    }
  }

  /** Streams a file to disk. @throws Refused 413 when it is over the limit, 400 when empty */
  async keep(body: Readable, fileName: string, accountId: string): Promise<Upload> {
    const id = newId();
    const path = this.pathOf(id);
    const most = this.settings.mostUploadBytes;
    try {
      const bytes = await keepOnDisk(body, path, most, {
        name: fileName,
        cure: 'Split it, or raise VARN_UPLOAD_MB.',
      });
      await this.store
        .em()
        .insert(Upload, { id, account: accountId, fileName, bytes, at: Date.now() });
      return await this.find(id, accountId);
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  async find(id: string, accountId: string): Promise<Upload> {
    const upload = await this.store.em().findOne(Upload, { id, account: accountId });
    if (!upload) throw Refused.notFound('file waiting; choose it again');
    return upload;
  }

  /** Does something with a file. @throws Refused 404 where the file was deleted meanwhile */
  async standing<T>(id: string, accountId: string, work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof Refused)) await this.find(id, accountId);
      throw error;
    }
  }

  async forget(id: string, accountId: string): Promise<void> {
    const upload = await this.find(id, accountId);
    await this.store.em().nativeDelete(Upload, { id: upload.id });
    await rm(this.pathOf(upload.id), { force: true });
  }

  pathOf(id: string): string {
    return join(this.folder, id);
  }
}
