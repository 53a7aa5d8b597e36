import type { CellRefusal, Refusal, VerdictView } from '@varn/contract';
import { sayCountOf } from '@varn/core';
import { HttpException } from '@nestjs/common';

/** A request that is not carried out: says what, where and what to do. */
export class Refused extends HttpException {
  constructor(refusal: Refusal) {
    super(refusal, refusal.statusCode);
  }

  static badRequest(code: string, message: string): Refused {
    return new Refused({ statusCode: 400, code, message });
  }

  static signedOut(): Refused {
    return new Refused({ statusCode: 401, code: 'signedOut', message: 'Sign in first.' });
  }

  static forbidden(message: string): Refused {
    return new Refused({ statusCode: 403, code: 'forbidden', message });
  }

  static notFound(what: string): Refused {
    return new Refused({ statusCode: 404, code: 'notFound', message: `There is no such ${what}.` });
  }

  /** Someone wrote in between, or a write id was used for something else. */
  static conflict(code: string, message: string): Refused {
    return new Refused({ statusCode: 409, code, message });
  }

  /** A request under a name that is not the server's. */
  static misdirected(host: string): Refused {
    return new Refused({
      statusCode: 421,
      code: 'misdirected',
      message: `This server is not called ${host}. Set VARN_ORIGIN to the address people see.`,
    });
  }

  static diskFull(): Refused {
    return new Refused({
      statusCode: 507,
      code: 'diskFull',
      message: 'The disk is full; nothing was written. Make room on the server and try again.',
    });
  }

  static tooLarge(message: string): Refused {
    return new Refused({ statusCode: 413, code: 'tooLarge', message });
  }

  /** More wait than can be kept. Nothing was begun. */
  static busy(seconds: number): Refused {
    return new Refused({
      statusCode: 503,
      code: 'busy',
      message: `The server is busy. Try again in ${sayCountOf(seconds, 'second')}.`,
    });
  }

  static tooMany(seconds: number): Refused {
    const wait =
      seconds >= 60 ? `${Math.round(seconds / 60)} minutes` : sayCountOf(seconds, 'second');
    return new Refused({
      statusCode: 429,
      code: 'tooMany',
      message: `Too many tries. Wait ${wait === '1 minutes' ? 'a minute' : wait} and try again.`,
    });
  }

  static unreadable(message: string): Refused {
    return new Refused({ statusCode: 422, code: 'unreadable', message });
  }

  /** What one would take back was changed by someone since: shows both. */
  static changedSince(both: { yours: object | null; now: object | null }): Refused {
    return new Refused({
      statusCode: 409,
      code: 'changedSince',
      message: 'Someone has changed this since. Look at both, then undo it anyway or leave it.',
      both,
    });
  }

  static byCells(cells: CellRefusal[]): Refused {
    const message =
      cells.length === 1
        ? `Not written: ${cells[0]?.message ?? ''}`
        : `Not written: ${cells.length} cells are not right yet.`;
    return new Refused({ statusCode: 422, code: 'refused', message, cells });
  }

  /** Of many records not one would be changed, for a reason. */
  static byReason(message: string): Refused {
    return new Refused({ statusCode: 422, code: 'refused', message });
  }

  static byVerdicts(verdicts: VerdictView[]): Refused {
    const message =
      verdicts.length === 1
        ? 'Not written: one answer is not right yet.'
        : `Not written: ${verdicts.length} answers are not right yet.`;
    return new Refused({ statusCode: 422, code: 'refused', message, verdicts });
  }
}
