import type { FormDefinition } from '../forms';
import type { Column } from '../kinds';

/** What an outline is read against. */
export interface OutlineGround {
  /** The sheet's columns: a line that names one is about it. */
  readonly columns: readonly Column<string>[];
  /** Columns that are to come with the form, and are in no sheet yet. */
  readonly planned?: readonly Column<string>[];
  /** The form as it was, so that what is the same keeps its id. */
  readonly previous?: FormDefinition;
  readonly newId: () => string;
}
