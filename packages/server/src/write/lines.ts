import { isRecordLine, type NewLine } from '../log/line';
import type { SheetFacts } from '../store/catalog';
import { storyOf } from './applying';
import type { Decision, WriteOrder } from './decision';
import type { AtHand } from './writeSites';

/** What all lines of a write have alike. */
interface OfWrite {
  readonly order: WriteOrder;
  readonly digest: string;
  readonly sheet: SheetFacts;
  readonly atHand: AtHand;
}

/** The line of the log for one of a write's decisions. @param index which of them, from 0 */
export function lineOf(
  { order, digest, sheet, atHand }: OfWrite,
  decision: Decision,
  index: number,
  answer: unknown = null,
): NewLine {
  return {
    ...storyOf(decision, atHand),
    sheetId: decision.part === 'sheet' ? decision.sheetId : sheet.id,
    workbookId: sheet.workbook.id,
    writeId: index === 0 ? order.writeId : `${order.writeId}/${index}`,
    batch: order.writeId,
    undoes: order.undoes ?? null,
    digest,
    accountId: order.writer.id,
    door: order.formId ?? order.door,
    answer: index === 0 ? answer : null,
  };
}

/** The lines of a write that is carried out later, as if each was done before the next. */
export class LinesAhead {
  private made = 0;
  private came = 0;
  private balance = 0;

  constructor(private readonly of: OfWrite) {}

  /** How many there are until now. */
  get count(): number {
    return this.made;
  }

  next(decision: Decision): NewLine {
    const line = lineOf(this.of, decision, this.made);
    this.made += 1;
    if (!isRecordLine(line)) return line;
    const { kind } = decision;
    const below = kind === 'recordAdded' ? this.came : 0;
    const counted = line.counted + this.balance;
    if (kind === 'recordAdded') this.came += 1;
    if (kind === 'recordAdded' || kind === 'recordPutBack') this.balance += 1;
    if (kind === 'recordRemoved') this.balance -= 1;
    return { ...line, gridRow: line.gridRow + below, counted };
  }
}
