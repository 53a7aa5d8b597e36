import type { Column } from '@varn/core';

/** What every control of a field is given. It tells of typed text and never reads it itself. */
export interface ControlProps {
  readonly fieldId: string;
  readonly column: Column;
  readonly text: string;
  readonly readOnly: boolean;
  readonly several: boolean;
  readonly required: boolean;
  readonly invalid: boolean;
  /** Ids of the label, and of hint and message. */
  readonly labelId: string;
  readonly describedBy: string | undefined;
  readonly onText: (text: string) => void;
}
