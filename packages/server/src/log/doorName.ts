import type { Door } from '@varn/core';

/** What is said of each way that a write can come; of a form's, the form's name is. */
const NAMES: Readonly<Record<Exclude<Door, 'submit' | 'update' | 'trial'> | 'structure', string>> =
  {
    record: 'API',
    grid: 'Grid',
    file: 'File',
    arrival: 'File',
    matches: 'All matches',
    values: 'Values stored',
    replace: 'Replace',
    history: 'History',
    undo: 'Undo',
    bin: 'Bin',
    columns: 'Column details',
    structure: 'Workbook',
  };

/** How a line's door is called. @param formNamed of a form's id, its name */
export function doorName(door: string, formNamed: (id: string) => string | undefined): string {
  const names: Readonly<Record<string, string>> = NAMES;
  return names[door] ?? formNamed(door) ?? 'A form';
}
