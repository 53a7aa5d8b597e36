import { oneChoice, severalChoices } from './choices';
import { date } from './date';
import { contactKinds } from './contacts';
import { filledKinds } from './filled';
import { file } from './file';
import type { Column, Kind, KindId } from './kind';
import { moment } from './moment';
import { money } from './money';
import { number } from './number';
import { text } from './text';
import { time } from './time';
import { wholeNumber } from './wholeNumber';
import { yesNo } from './yesNo';

/** Every kind, by its id. A kind without a line here does not compile. */
export const KINDS: Readonly<Record<KindId, Kind>> = {
  text,
  wholeNumber,
  number,
  money,
  date,
  time,
  moment,
  yesNo,
  oneChoice,
  severalChoices,
  file,
  ...contactKinds,
  ...filledKinds,
};

export function kindOf(column: Pick<Column, 'kind'>): Kind {
  return KINDS[column.kind];
}
