import { RequestMethod } from '@nestjs/common';
import { METHOD_METADATA, PATH_METADATA } from '@nestjs/common/constants';
import type { DiscoveryService, MetadataScanner, Reflector } from '@nestjs/core';
import type { FastifyRequest } from 'fastify';
import { ACCESS, BODY_BYTES, COSTLY, RATE, URGENT, type Access } from './access';
import type { RateName } from './rates';

/** The largest body of a route that says nothing of its own. */
const USUAL_BODY_BYTES = 64 * 1024;

/** What is decided of a request before its body is read. */
export interface Door {
  /** Whom it lets in; absent where nobody was named, and it stays closed. */
  readonly access: Access | undefined;
  readonly rate: RateName | undefined;
  readonly bodyBytes: number;
  /** Whether someone waits for a little to be written: it goes before what reads. */
  readonly isUrgent: boolean;
  /** Whether its answer may take long to find. */
  readonly isCostly: boolean;
}

/** By `METHOD url` as the router has them. */
export type Doors = ReadonlyMap<string, Door>;

/** The door a request has come to; `undefined` for what is no part of the API. */
export function doorOf(
  doors: Doors,
  { method, routeOptions }: Pick<FastifyRequest, 'method' | 'routeOptions'>,
): Door | undefined {
  return doors.get(`${method === 'HEAD' ? 'GET' : method} ${routeOptions.url ?? ''}`);
}

/** The doors of all routes. */
export function doorsOf(
  discovery: DiscoveryService,
  scanner: MetadataScanner,
  reflector: Reflector,
): Doors {
  const doors = new Map<string, Door>();
  for (const { metatype } of discovery.getControllers()) {
    const prototype = metatype?.prototype as Record<string, () => unknown> | undefined;
    if (!prototype) continue;
    for (const name of scanner.getAllMethodNames(prototype)) {
      const handler = prototype[name];
      const path = handler && (Reflect.getMetadata(PATH_METADATA, handler) as string | undefined);
      if (!handler || path === undefined) continue;
      const method = Reflect.getMetadata(METHOD_METADATA, handler) as RequestMethod;
      doors.set(`${RequestMethod[method]} ${path}`, {
        access: reflector.get<Access | undefined>(ACCESS, handler),
        rate: reflector.get<RateName | undefined>(RATE, handler),
        bodyBytes: reflector.get<number | undefined>(BODY_BYTES, handler) ?? USUAL_BODY_BYTES,
        isUrgent: reflector.get<boolean | undefined>(URGENT, handler) ?? false,
        isCostly: reflector.get<boolean | undefined>(COSTLY, handler) ?? false,
      });
    }
  }
  return doors;
}
