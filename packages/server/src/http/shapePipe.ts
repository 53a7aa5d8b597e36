import { shapeOf, type Refusal } from '@varn/contract';
import { ValidationPipe, type ArgumentMetadata, type PipeTransform } from '@nestjs/common';
import { validateSync, type ValidationError, type ValidatorOptions } from 'class-validator';
import { Refused } from './refused';

/** Fields that a refusal names at most. */
const MOST_FIELDS = 20;

type FieldError = NonNullable<Refusal['fields']>[number];

/** Nest's pipe, checking at once: no rule of the contract waits for anything. */
class DecoratorPipe extends ValidationPipe {
  protected override validate(object: object, options?: ValidatorOptions): ValidationError[] {
    return validateSync(object, options);
  }
}

/**
 * Checks a request against its class of the contract: by its shape, in one plain pass, where it
 * has one; else by its decorators. Names the first fields that are off.
 */
export class ShapePipe implements PipeTransform {
  private readonly byDecorators = new DecoratorPipe({
    transform: true,
    whitelist: true,
    forbidNonWhitelisted: true,
    exceptionFactory: (errors) => refused([...fieldsOf(errors, '')]),
  });

  transform(value: unknown, metadata: ArgumentMetadata): unknown {
    const { type, metatype } = metadata;
    if (type !== 'body' || !metatype) return this.byDecorators.transform(value, metadata);
    const shape = shapeOf(metatype);
    const problem = isObject(value) ? (shape?.(value) ?? null) : ' must be an object';
    if (problem !== null) throw refused([fieldIn(problem)]);
    return shape ? value : this.byDecorators.transform(value, metadata);
  }
}

/** Whether a value is an object as JSON has them: a body that was not sent as JSON is a stream. */
const isObject = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

function refused(fields: FieldError[]): Refused {
  const [first] = fields;
  return new Refused({
    statusCode: 400,
    code: 'shape',
    message: first
      ? `${first.path}: ${first.message}`
      : 'The request is not in the form this address takes.',
    fields: fields.slice(0, MOST_FIELDS),
  });
}

/** The field that a shape's problem is about, and the problem: `.records[2].id must be a text`. */
function fieldIn(problem: string): FieldError {
  const [, path = '', message = ''] = /^(\S*) (.*)$/s.exec(problem) ?? [];
  return { path: path.replace(/^\./, '') || 'body', message };
}

function* fieldsOf(errors: readonly ValidationError[], before: string): Generator<FieldError> {
  for (const { property, constraints = {}, children = [] } of errors.slice(0, MOST_FIELDS)) {
    const path = `${before}${property}`.slice(0, 200);
    for (const message of Object.values(constraints)) {
      yield { path, message: message.slice(0, 500) };
    }
    yield* fieldsOf(children, `${path}.`);
  }
}
