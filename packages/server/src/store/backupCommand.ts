import { resolve } from 'node:path';
import { settingsFrom } from '../settings';
import { backUp, restore } from './backup';

const counted = (n: number, what: string): string =>
  `${n.toLocaleString('en-GB')} ${what}${n === 1 ? '' : 's'}`;

/** `backup FOLDER` and `restore FOLDER`, from the command line. */
function main([job, folder = '']: string[]): string {
  const { data } = settingsFrom(process.env);
  if (folder === '') throw new Error(`Name the folder: npm run ${job ?? 'backup'} -- FOLDER`);
  if (job === 'restore') {
    const before = restore(resolve(folder), data);
    const kept = before === null ? '' : ` What was there before is in ${before}.`;
    return `${data} holds the backup now.${kept} Start Varn again; people sign in anew.`;
  }
  const { workbooks, records, files, bytes } = backUp(data, resolve(folder));
  const what = `${counted(workbooks, 'workbook')}, ${counted(records, 'record')} and ${counted(files, 'file')}`;
  return `Backed up ${what} (${(bytes / 1024 / 1024).toFixed(1)} MB) to ${resolve(folder)}.`;
}

try {
  process.stdout.write(`${main(process.argv.slice(2))}\n`);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
}
