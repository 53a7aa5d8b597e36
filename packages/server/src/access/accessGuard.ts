import { mayAs } from '@varn/contract';
import { Inject, Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { Sessions } from '../accounts/sessions';
import { Refused } from '../http/refused';
import { SETTINGS, type Settings } from '../settings';
import { Catalog } from '../store/catalog';
import { ACCESS, type Access, type KnownRequest } from './access';

const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Stands before every endpoint: who asks, from which page, and whether they may. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly sessions: Sessions,
    private readonly catalog: Catalog,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<KnownRequest>();
    if (!READING.has(request.method)) this.checkOrigin(request);
    const access = this.reflector.get<Access | undefined>(ACCESS, context.getHandler());
    if (!access) throw Refused.forbidden('This is closed.');
    if (access.to === 'anyone') return true;
    const person = await this.sessions.personOf(request.headers.cookie);
    if (!person) throw Refused.signedOut();
    request.person = person;
    if (access.to === 'signedIn') return true;
    const workbookId = this.workbookOf(access.by, request.params as Record<string, string>);
    const role = this.catalog.role(workbookId, person.id);
    if (!role) throw Refused.forbidden('This workbook is not shared with you. Ask its owner.');
    if (!mayAs(role, access.to)) {
      throw Refused.forbidden(`As ${role} you may not do this. Ask the workbook’s owner.`);
    }
    return true;
  }

  /** Browsers name the page a write comes from: it must be ours (against forged requests). */
  private checkOrigin({ headers }: KnownRequest): void {
    const { origin, host } = headers;
    if (origin === undefined && headers['sec-fetch-site'] !== 'cross-site') return;
    const ours = this.settings.origin ?? `http://${host ?? ''}`;
    if (origin !== ours) throw Refused.forbidden('This request comes from another site’s page.');
  }

  private workbookOf(
    by: 'workbookId' | 'sheetId' | 'formId',
    params: Record<string, string>,
  ): string {
    const id = params[by] ?? '';
    const found = {
      workbookId: () => this.catalog.workbook(id)?.id,
      sheetId: () => this.catalog.sheetInUse(id)?.workbook.id,
      formId: () => this.catalog.form(id)?.sheet.workbook.id,
    }[by]();
    if (found === undefined) throw Refused.notFound(by.replace('Id', ''));
    return found;
  }
}
