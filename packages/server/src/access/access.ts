import { SetMetadata, createParamDecorator, type ExecutionContext } from '@nestjs/common';
import type { Role } from '@varn/contract';
import type { FastifyRequest } from 'fastify';
import type { RateName } from './rates';
import type { Asker } from '../turns/asker';

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

/** The key under which a route tells how large its body may be, in bytes. */
export const BODY_BYTES = 'bodyBytes';
/** The largest body a route takes; those that say nothing take a small one. */
export const BodyUpTo = (kilobytes: number) => SetMetadata(BODY_BYTES, kilobytes * 1024);

/** The key under which a route tells that it goes before what reads. */
export const URGENT = 'urgent';
/** Writes a little that someone waits for: among those who wait, before what reads. */
export const Urgent = () => SetMetadata(URGENT, true);

/** The key under which a route tells that its answer may take long to find. */
export const COSTLY = 'costly';
/** May take long to answer: whoever has asked for much lately waits behind others. */
export const Costly = () => SetMetadata(COSTLY, true);

/** The key under which a route tells what it is counted with. */
export const RATE = 'rate';
/** Counts requests: by address for the signed out, else by person. */
export const Counted = (rate: RateName) => SetMetadata(RATE, rate);

/** Who is signed in, and so who writes. */
export interface Writer {
  readonly id: string;
  readonly name: string;
}

/** A request that was let in, and whose person is known where there is one. */
export interface KnownRequest extends FastifyRequest {
  person?: Writer;
  isLetIn?: boolean;
  asker?: Asker;
}

/** The person who is signed in. */
export const CurrentPerson = createParamDecorator(
  (_data: unknown, context: ExecutionContext): Writer => {
    const { person } = context.switchToHttp().getRequest<KnownRequest>();
    if (!person) throw new Error('the route lets in people who are not signed in');
    return person;
  },
);

/** Who waits for the answer: what finding it costs is theirs, and it ends when they go. */
export const AskedBy = createParamDecorator((_data: unknown, context: ExecutionContext): Asker => {
  const { asker } = context.switchToHttp().getRequest<KnownRequest>();
  if (!asker) throw new Error('the route lets in people who are not signed in');
  return asker;
});
