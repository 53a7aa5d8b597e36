import { RequestMethod } from '@nestjs/common';
import { METHOD_METADATA, PATH_METADATA } from '@nestjs/common/constants';
import type { DiscoveryService, MetadataScanner, Reflector } from '@nestjs/core';
import { ACCESS, BODY_BYTES, RATE, type Access } from './access';
import type { RateName } from './rates';

/** The largest body of a route that says nothing of its own. */
const USUAL_BODY_BYTES = 64 * 1024;

/** What is decided of a request before its body is read. */
export interface Door {
  /** Whom it lets in; absent where nobody was named, and it stays closed. */
  readonly access: Access | undefined;
  readonly rate: RateName | undefined;
  readonly bodyBytes: number;
}

/** The doors of all routes, by `METHOD url` as the router has them. */
export function doorsOf(
  discovery: DiscoveryService,
  scanner: MetadataScanner,
  reflector: Reflector,
): ReadonlyMap<string, Door> {
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
      });
    }
  }
  return doors;
}
