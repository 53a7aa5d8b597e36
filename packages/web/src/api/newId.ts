import { v4 } from 'uuid';

/** An id of its own for a write or a part, also over a plain connection on the office's network. */
export const newId = (): string => v4();
