import type { FastifyInstance, FastifyRequest } from 'fastify';
import { Refused } from './refused';

/** How deep arrays and objects may stand within each other. */
const DEEPEST = 50;

/** How many values a body may hold: the largest paste has fewer. */
const MOST_VALUES = 1_500_000;

const [QUOTE, BACKSLASH, OPEN_LIST, CLOSE_LIST, OPEN_OBJECT, CLOSE_OBJECT, COMMA] =
  Buffer.from('"\\[]{},');
const NUL_ESCAPE = Buffer.from('u0000');

type Done = (error: Error | null, body?: unknown) => void;

/**
 * Reads JSON bodies that are not too deep, hold no more than can be wanted, and no NUL, which the
 * database could not keep.
 */
export function readJson(fastify: FastifyInstance): void {
  const parse = fastify.getDefaultJsonParser('error', 'ignore');
  fastify.addContentTypeParser(
    'application/json',
    { parseAs: 'buffer' },
    (request: FastifyRequest, body: Buffer, done: Done) => {
      const problem = problemIn(body);
      if (problem) done(problem);
      else void parse(request, body.toString('utf8'), done);
    },
  );
}

/** Whether an escape stands for NUL. @param at behind its backslash */
const isNul = (body: Buffer, at: number): boolean =>
  body[at] === NUL_ESCAPE[0] && body.subarray(at, at + NUL_ESCAPE.length).equals(NUL_ESCAPE);

/** One pass over the bytes, before anything is made of them. */
function problemIn(body: Buffer): Refused | null {
  let depth = 0;
  let values = 0;
  let inText = false;
  for (let at = 0; at < body.length; at += 1) {
    const byte = body[at];
    if (byte === QUOTE) inText = !inText;
    else if (inText && byte === BACKSLASH) {
      if (isNul(body, at + 1)) {
        return Refused.badRequest('holdsNul', 'A text holds the character NUL. Take it out.');
      }
      at += 1;
    } else if (!inText && (byte === OPEN_LIST || byte === OPEN_OBJECT)) {
      depth += 1;
      if (depth > DEEPEST) {
        return Refused.badRequest(
          'tooDeep',
          `The JSON is nested more than ${DEEPEST} deep. Send it flatter.`,
        );
      }
      values += 1;
    } else if (!inText && (byte === CLOSE_LIST || byte === CLOSE_OBJECT)) depth -= 1;
    else if (!inText && byte === COMMA) values += 1;
    if (values > MOST_VALUES) {
      return Refused.tooLarge('The request holds too many values. Send it in parts.');
    }
  }
  return null;
}
