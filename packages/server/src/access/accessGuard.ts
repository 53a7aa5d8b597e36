import { mayAs } from '@varn/contract';
import { Inject, Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common';
import { Sessions } from './sessions';
import { Refused } from '../http/refused';
import { SETTINGS, type Settings } from '../settings';
import { Catalog } from '../store/catalog';
import type { Writer } from './access';
import type { Access, KnownRequest } from './access';
import type { Door } from './doors';
import { Rates } from './rates';
import { Asker } from '../turns/asker';
import { Costs } from '../turns/costs';

const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Decides who may, from a request's headers alone: before its body is read (`admit`). The guard
 * itself closes what was not decided of.
 */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly sessions: Sessions,
    private readonly rates: Rates,
    private readonly catalog: Catalog,
    private readonly costs: Costs,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  canActivate(context: ExecutionContext): boolean {
    if (context.switchToHttp().getRequest<KnownRequest>().isLetIn === true) return true;
    throw Refused.forbidden('This is closed.');
  }

  /** Lets a request in through its door. @throws Refused 401, 403, 404, 429 */
  async admit(request: KnownRequest, { access, rate }: Door): Promise<void> {
    if (!READING.has(request.method)) this.checkOrigin(request);
    if (/%00/.test(request.url)) {
      throw Refused.badRequest('holdsNul', 'The address holds the character NUL. Take it out.');
    }
    if (!access) throw Refused.forbidden('This is closed.');
    if (access.to !== 'anyone') {
      const person = await this.sessions.personOf(request.headers.cookie);
      if (!person) throw Refused.signedOut();
      request.person = person;
      request.asker = new Asker(person.id, this.costs, () => request.raw.socket.destroyed);
      if (access.to !== 'signedIn') this.checkRole(access, request, person);
    }
    if (rate) await this.rates.count(rate, request.person?.id ?? request.ip);
    request.isLetIn = true;
  }

  private checkRole(
    { to, by }: Extract<Access, { by: unknown }>,
    { params }: KnownRequest,
    { id }: Writer,
  ): void {
    const workbookId = this.workbookOf(by, params as Record<string, string>);
    const role = this.catalog.role(workbookId, id);
    if (!role) throw Refused.forbidden('This workbook is not shared with you. Ask its owner.');
    if (!mayAs(role, to)) {
      throw Refused.forbidden(`As ${role} you can’t do this. Ask the workbook’s owner.`);
    }
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
