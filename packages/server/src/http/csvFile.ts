import { StreamableFile } from '@nestjs/common';
import { Readable } from 'node:stream';

const WAYS = {
  type: 'text/csv; charset=utf-8; header=present',
  disposition: 'attachment; filename="left-out.csv"',
};

/** What is left out of a write, as a file to be kept. */
export const csvFile = (csv: string): StreamableFile => new StreamableFile(Buffer.from(csv), WAYS);

/** The same in parts, of which none is held: what fails before the first of them is answered as such. */
export async function csvParts(parts: AsyncGenerator<string, void>): Promise<StreamableFile> {
  const first = await parts.next();
  async function* all(): AsyncGenerator<string, void> {
    if (first.value !== undefined) yield first.value;
    yield* parts;
  }
  return new StreamableFile(Readable.from(all()), WAYS);
}
