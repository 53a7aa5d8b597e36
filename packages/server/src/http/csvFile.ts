import { StreamableFile } from '@nestjs/common';

/** What is left out of a write, as a file to be kept. */
export const csvFile = (csv: string): StreamableFile =>
  new StreamableFile(Buffer.from(csv), {
    type: 'text/csv; charset=utf-8; header=present',
    disposition: 'attachment; filename="left-out.csv"',
  });
