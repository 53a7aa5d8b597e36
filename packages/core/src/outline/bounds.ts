import { detailProblem, widthProblem } from '../forms';
import { settingProblem } from '../kinds';
import type { LineDraft } from './line';
import { trimmed, type Piece } from './pieces';
import { OutlineError } from './problem';

/** Takes out what a piece said that is out of bounds, and tells what it may be. */
export function refuseOutOfBounds(piece: Piece, { settings, details, field }: LineDraft): void {
  const setting = settingProblem(settings);
  const detail = detailProblem(details);
  const width = widthProblem(field.width);
  const allowed = setting?.allowed ?? detail?.allowed ?? width;
  if (allowed === null) return;
  if (setting) Reflect.deleteProperty(settings, setting.name);
  if (detail) Reflect.deleteProperty(details, detail.name);
  if (width !== null) delete field.width;
  const { text, at } = trimmed(piece);
  const said = text.length > 60 ? `${text.slice(0, 59)}…` : text;
  throw new OutlineError(
    { code: 'outOfBounds', text: said, allowed },
    at,
    Math.max(1, text.length),
  );
}
