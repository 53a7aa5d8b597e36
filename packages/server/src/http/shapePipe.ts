import type { Refusal } from '@varn/contract';
import { ValidationPipe } from '@nestjs/common';
import { validateSync, type ValidationError, type ValidatorOptions } from 'class-validator';
import { Refused } from './refused';

/** Nest's pipe, checking at once: no rule of the contract waits for anything. */
class ShapePipe extends ValidationPipe {
  protected override validate(object: object, options?: ValidatorOptions): ValidationError[] {
    return validateSync(object, options);
  }
}

/** Checks a request's shape against its class of the contract; names every field that is off. */
export function shapePipe(): ValidationPipe {
  return new ShapePipe({
    transform: true,
    whitelist: true,
    forbidNonWhitelisted: true,
    exceptionFactory: (errors) => {
      const fields = errors.flatMap((error) => fieldsOf(error, ''));
      const first = fields[0];
      return new Refused({
        statusCode: 400,
        code: 'shape',
        message: first ? `${first.path}: ${first.message}` : 'The request has another shape.',
        fields,
      });
    },
  });
}

type FieldError = NonNullable<Refusal['fields']>[number];

function fieldsOf(error: ValidationError, before: string): FieldError[] {
  const path = before === '' ? error.property : `${before}.${error.property}`;
  return [
    ...Object.values(error.constraints ?? {}).map((message) => ({ path, message })),
    ...(error.children ?? []).flatMap((child) => fieldsOf(child, path)),
  ];
}
