import { createWriteStream } from 'node:fs';
import { Transform, type Readable, type TransformCallback } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Refused } from '../http/refused';

const MEGABYTE = 1024 * 1024;

/**
 * Streams a file to disk and gives its size in bytes.
 *
 * @throws Refused 413 when it is over the limit, with the cure; 400 when it is empty
 */
export async function keepOnDisk(
  body: Readable,
  path: string,
  most: number,
  { name, cure }: { name: string; cure: string },
): Promise<number> {
  const limit = new Limit(most);
  body.on('error', (error) => limit.destroy(error));
  body.on('close', () => {
    if (!body.readableEnded) limit.destroy(new Error('the connection was cut'));
  });
  body.pipe(limit);
  try {
    await pipeline(limit, createWriteStream(path));
  } catch (error) {
    // What is left is read and let go, so that the refusal gets through, unless there is no end.
    body.unpipe(limit);
    if (error instanceof FarOver) body.destroy();
    else body.resume();
    throw error;
  }
  if (limit.seen > most) {
    throw Refused.tooLarge(`${name} is over ${Math.round(most / MEGABYTE)} MB. ${cure}`);
  }
  if (limit.seen === 0) {
    throw Refused.badRequest('emptyFile', `${name} is empty. Choose another file.`);
  }
  return limit.seen;
}

/** More comes than anyone sends by mistake. */
class FarOver extends Error {}

/**
 * Lets a file through up to a limit. What is past it is read and let go, so that the refusal
 * reaches the sender; past twice the limit the connection is cut.
 */
class Limit extends Transform {
  seen = 0;

  constructor(private readonly most: number) {
    super();
  }

  override _transform(chunk: Buffer, _encoding: BufferEncoding, done: TransformCallback): void {
    this.seen += chunk.length;
    if (this.seen > 2 * this.most) done(new FarOver('far over the limit'));
    else if (this.seen > this.most) done();
    else done(null, chunk);
  }
}
