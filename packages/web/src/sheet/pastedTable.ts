import Papa from 'papaparse';
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { addresses } from '../addresses';
import { useSteady } from '../form/useSteady';
import { readCopied } from './cells/clipboard';

/** A table on its way to where files are brought in, as a file would be chosen there. */
let onItsWay: File | null = null;

/** Takes the table that is on its way, once. */
export function takeOnItsWay(): File | null {
  const file = onItsWay;
  onItsWay = null;
  return file;
}

/** Rows of texts as the file they would be. */
export function fileOf(rows: readonly (readonly string[])[], name: string): File {
  const text = Papa.unparse(rows as string[][], { newline: '\r\n' });
  return new File([text], `${name}.csv`, { type: 'text/csv' });
}

/** The rows of a copied table; `null` where what was copied is a word or a line. */
export function rowsCopied(clipboard: DataTransfer | null): string[][] | null {
  if (!clipboard) return null;
  const { rows } = readCopied(clipboard.getData('text/html'), clipboard.getData('text/plain'));
  const texts = rows.map((cells) => cells.map(({ text }) => text));
  const isTable = texts.length > 1 && texts.some((cells) => cells.length > 1);
  return isTable ? texts : null;
}

/** Goes to where files are brought in, with a table. */
export function useBringInTable(workbookId?: string): (file: File) => void {
  const navigate = useNavigate();
  return useSteady((file: File) => {
    onItsWay = file;
    void navigate(addresses.bringIn(workbookId));
  });
}

/** Takes a table that is pasted anywhere on the page but into what takes texts itself. */
export function usePastedTable(onTable: (file: File) => void): void {
  const take = useSteady(onTable);
  useEffect(() => {
    const onPaste = (event: ClipboardEvent): void => {
      const { target, clipboardData } = event;
      const isField =
        target instanceof Element && target.matches('input, textarea, [contenteditable=true]');
      const rows = isField || event.defaultPrevented ? null : rowsCopied(clipboardData);
      if (!rows) return;
      event.preventDefault();
      take(fileOf(rows, 'Pasted table'));
    };
    document.addEventListener('paste', onPaste);
    return () => document.removeEventListener('paste', onPaste);
  }, [take]);
}
