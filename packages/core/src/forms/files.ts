import type { Problem } from '../values';
import type { ControlDetails } from './controls';

const MEGABYTE = 1024 * 1024;

/** What keeps a file from being an answer of a field with these details. */
export function fileProblem(
  file: { readonly name: string; readonly type: string; readonly bytes: number },
  { accepts, most }: ControlDetails,
): Problem | null {
  const text = file.name;
  if (most !== undefined && file.bytes > most * MEGABYTE)
    return { code: 'fileTooLarge', text, most };
  if (accepts === undefined) return null;
  const isPicture = file.type.startsWith('image/');
  return isPicture === (accepts === 'images') ? null : { code: 'otherFiles', text, accepts };
}
