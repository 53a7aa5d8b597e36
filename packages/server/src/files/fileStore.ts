import { PICTURE_TYPES, type FileView } from '@varn/contract';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { fromFile } from 'file-type';
import { createReadStream, type ReadStream } from 'node:fs';
import { mkdir, open, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { Refused } from '../http/refused';
import { newId } from '../ids';
import { SETTINGS, type Settings } from '../settings';
import { StoredFile } from '../store/entities';
import { Store } from '../store/store';
import { keepOnDisk } from './keepOnDisk';

const PICTURE_NAME = /\.(?:png|jpe?g|gif|webp)$/i;
const LONGEST_FILE_NAME = 120;
const FIRST_BYTES = 1024;
/** A file without its row was cut off on its way, if it is older than this. */
const LEFT_BEHIND_MS = 3_600_000;

/** Files that came through forms, or are shown on them: bytes on disk, the rest in the database. */
@Injectable()
export class FileStore implements OnModuleInit {
  private readonly folder: string;

  constructor(
    private readonly store: Store,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    this.folder = join(settings.data, 'files');
  }

  async onModuleInit(): Promise<void> {
    await this.store.open();
    await mkdir(this.folder, { recursive: true });
    const known = new Set(
      (await this.store.em().find(StoredFile, {}, { fields: ['id'] })).map(({ id }) => id),
    );
    for (const name of await readdir(this.folder)) {
      const path = join(this.folder, name);
      const isOld = (await stat(path)).mtimeMs < Date.now() - LEFT_BEHIND_MS;
      if (!known.has(name) && isOld) await rm(path, { force: true });
    }
  }

  /** Streams a file to disk. @throws Refused 413, 400, 422 where it is not what it says it is */
  async keep(
    workbookId: string,
    body: Readable,
    givenName: string,
    accountId: string,
  ): Promise<FileView> {
    const id = newId();
    const name = safeName(givenName);
    const path = join(this.folder, id);
    try {
      const most = this.settings.mostFileBytes;
      const bytes = await keepOnDisk(body, path, most, { name, cure: 'Choose a smaller one.' });
      const type = await this.typeOf(path, name);
      const row = { id, workbook: workbookId, account: accountId, name, type, bytes };
      await this.store.em().insert(StoredFile, { ...row, at: Date.now() });
      return viewOf({ id, name, type, bytes });
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  async find(workbookId: string, id: string): Promise<{ view: FileView; bytes: ReadStream }> {
    const file = await this.store.em().findOne(StoredFile, { id, workbook: workbookId });
    if (!file) throw Refused.notFound('file in this workbook');
    return { view: viewOf(file), bytes: createReadStream(join(this.folder, file.id)) };
  }

  /** What a file's bytes tell of themselves; its name is believed in nothing. */
  private async typeOf(path: string, name: string): Promise<string> {
    const type = (await fromFile(path))?.mime;
    if (type !== undefined && isPicture(type)) return type;
    if (await holdsScript(path)) {
      throw Refused.unreadable(
        `${name} is a drawing or a page that can hold script. Save it as PNG or JPEG.`,
      );
    }
    if (PICTURE_NAME.test(name)) {
      throw Refused.unreadable(`${name} is not a picture. Choose a PNG, JPEG, GIF or WebP file.`);
    }
    return type ?? 'application/octet-stream';
  }
}

const isPicture = (type: string): boolean => (PICTURE_TYPES as readonly string[]).includes(type);

function viewOf(file: { id: string; name: string; type: string; bytes: number }): FileView {
  const { id, name, type, bytes } = file;
  return { id, name, type, bytes, shownAs: isPicture(type) ? 'picture' : 'document' };
}

/** SVG and HTML, told by how they begin. */
async function holdsScript(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(FIRST_BYTES), 0, FIRST_BYTES, 0);
    const begins = buffer.subarray(0, bytesRead).toString('utf8').trimStart().toLowerCase();
    return /<(?:svg|html|!doctype\s+(?:html|svg)|script)\b/.test(begins);
  } finally {
    await file.close();
  }
}

/** A name that is nothing but a name: no folders, no control characters, not too long. */
export function safeName(given: string): string {
  const last = given.split(/[/\\]/).at(-1) ?? '';
  const plain = last
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}<>:"|?*]/gu, '')
    .replace(/^[.\s]+|[.\s]+$/g, '');
  const [, stem = plain, ending = ''] = /^(.*?)(\.[A-Za-z0-9]{1,8})?$/s.exec(plain) ?? [];
  return `${[...stem].slice(0, LONGEST_FILE_NAME).join('')}${ending}` || 'file';
}
