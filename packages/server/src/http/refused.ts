import type { CellRefusal, Refusal, VerdictView } from '@varn/contract';
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

  static tooLarge(message: string): Refused {
    return new Refused({ statusCode: 413, code: 'tooLarge', message });
  }

  static unreadable(message: string): Refused {
    return new Refused({ statusCode: 422, code: 'unreadable', message });
  }

  /** What one would take back was changed by someone since: shows both. */
  static changedSince(both: { yours: object | null; now: object | null }): Refused {
    return new Refused({
      statusCode: 409,
      code: 'changedSince',
      message: 'Someone changed this since. Look at both, then take it back anyway or leave it.',
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

  static byVerdicts(verdicts: VerdictView[]): Refused {
    const message =
      verdicts.length === 1
        ? 'Not written: one answer is not right yet.'
        : `Not written: ${verdicts.length} answers are not right yet.`;
    return new Refused({ statusCode: 422, code: 'refused', message, verdicts });
  }
}
