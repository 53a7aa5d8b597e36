import { BLANK_SENTENCES } from './judge';
import { KEY_SENTENCES } from './keys';

/** What is said of records that may not be stored. */
export const RECORD_SENTENCES = { ...BLANK_SENTENCES, ...KEY_SENTENCES };
