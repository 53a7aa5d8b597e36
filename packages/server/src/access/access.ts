import { SetMetadata, createParamDecorator, type ExecutionContext } from '@nestjs/common';
import type { Role } from '@varn/contract';
import type { FastifyRequest } from 'fastify';
import type { Writer } from '../write/recordWriter';

/** Whom a route lets in. A route that does not say is closed to everyone. */
export type Access =
  | { readonly to: 'anyone' }
  | { readonly to: 'signedIn' }
  | { readonly to: Role; readonly by: 'workbookId' | 'sheetId' | 'formId' };

export const ACCESS = 'varn:access';

/** Open to anyone, signed in or not. */
export const ForAnyone = () => SetMetadata(ACCESS, { to: 'anyone' } satisfies Access);

/** Open to whoever is signed in. */
export const ForSignedIn = () => SetMetadata(ACCESS, { to: 'signedIn' } satisfies Access);

/** Open to those with at least this role in the workbook that the route's parameter leads to. */
export const For = (to: Role, by: 'workbookId' | 'sheetId' | 'formId') =>
  SetMetadata(ACCESS, { to, by } satisfies Access);

/** A request whose person is known. */
export interface KnownRequest extends FastifyRequest {
  person?: Writer;
}

/** The person who is signed in. */
export const CurrentPerson = createParamDecorator(
  (_data: unknown, context: ExecutionContext): Writer => {
    const { person } = context.switchToHttp().getRequest<KnownRequest>();
    if (!person) throw new Error('the route lets in people who are not signed in');
    return person;
  },
);
