import { CHOICE_SENTENCES } from './choices';
import { CONTACT_SENTENCES } from './contacts';
import { FAR_SENTENCES } from './farDate';
import { FILE_SENTENCES } from './file';
import { FILLED_SENTENCES } from './filled';
import { MOMENT_SENTENCES } from './moment';
import { MONEY_SENTENCES } from './money';
import { WHOLE_SENTENCES } from './wholeNumber';
import { YES_NO_SENTENCES } from './yesNo';

/** What each kind says of a text that is no value of it. */
export const KIND_SENTENCES = {
  ...CHOICE_SENTENCES,
  ...CONTACT_SENTENCES,
  ...FAR_SENTENCES,
  ...FILE_SENTENCES,
  ...FILLED_SENTENCES,
  ...MOMENT_SENTENCES,
  ...MONEY_SENTENCES,
  ...WHOLE_SENTENCES,
  ...YES_NO_SENTENCES,
};
