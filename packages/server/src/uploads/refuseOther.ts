import { guessDialect } from '@varn/files';
import { fromFile } from 'file-type';
import { open } from 'node:fs/promises';
import { Refused } from '../http/refused';

/** What files are called that people take for tables, and what to do with each. */
const KNOWN: Readonly<Record<string, string>> = {
  xlsx: 'a workbook (.xlsx). Save its sheet as CSV, and bring that in.',
  ods: 'a workbook (.ods). Save its sheet as CSV, and bring that in.',
  cfb: 'a file of an older office program. Save its sheet as CSV, and bring that in.',
  docx: 'a text document (.docx). Save its table as CSV, and bring that in.',
  odt: 'a text document (.odt). Save its table as CSV, and bring that in.',
  pdf: 'a PDF. Save its table as CSV where it was made, and bring that in.',
  zip: 'an archive (.zip). Unpack it, and bring in the CSV file that is in it.',
  gz: 'an archive (.gz). Unpack it, and bring in the CSV file that is in it.',
};
const FIRST_BYTES = 4096;

/**
 * Tells of a file whose bytes are no text, and what it is; its name is believed in nothing.
 *
 * @throws Refused 422
 */
export async function refuseOther(path: string, fileName: string): Promise<void> {
  const type = await fromFile(path);
  const known = type && KNOWN[type.ext];
  if (known) throw Refused.unreadable(`${fileName} is ${known}`);
  if (!(await holdsNoText(path))) return;
  const what = type ? `a file of the type ${type.ext}` : 'no text';
  throw Refused.unreadable(`${fileName} is ${what}. Bring in a table as CSV.`);
}

/** Zero bytes stand in no text but in UTF-16. */
async function holdsNoText(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(FIRST_BYTES), 0, FIRST_BYTES, 0);
    if (!buffer.subarray(0, bytesRead).includes(0)) return false;
  } finally {
    await file.close();
  }
  return !(await guessDialect(path)).encoding.startsWith('utf-16');
}
