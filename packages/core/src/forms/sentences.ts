import { CHECKED_SENTENCES } from './controls/choices';
import { STEP_SENTENCES } from './controls/numbers';
import { FILE_LIMIT_SENTENCES } from './files';
import { REQUIRED_SENTENCES } from './filling';
import { LIMIT_SENTENCES } from './limits';

/** What the parts of a form say of answers that they don't take. */
export const FORM_SENTENCES = {
  ...CHECKED_SENTENCES,
  ...STEP_SENTENCES,
  ...FILE_LIMIT_SENTENCES,
  ...REQUIRED_SENTENCES,
  ...LIMIT_SENTENCES,
};
