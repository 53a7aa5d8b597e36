import type { RowMark } from '@varn/files';

/** Of how many files marks are kept: those looked at last. */
const MOST_FILES = 50;

/**
 * Where rows of files that wait begin, as looking them through found out, so that rows deep in one
 * come at once. Gone with the process: such a file is read from its beginning.
 */
export class FileMarks {
  private readonly kept = new Map<string, readonly RowMark[]>();

  /** @param way names the file and how it is read */
  keep(way: string, marks: readonly RowMark[]): void {
    this.kept.delete(way);
    this.kept.set(way, marks);
    const [oldest = way] = this.kept.keys();
    if (this.kept.size > MOST_FILES) this.kept.delete(oldest);
  }

  /** The last mark at a row or before it. */
  before(way: string, row: number): RowMark | undefined {
    return this.kept.get(way)?.findLast((mark) => mark.row <= row);
  }
}
