import { paths, SessionView, SignIn, SignInToDemo } from '@varn/contract';
import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { BodyUpTo, Counted, ForAnyone } from '../access/access';
import { Rates } from '../access/rates';
import { Refused } from '../http/refused';
import { SETTINGS, type Settings } from '../settings';
import { Account, Membership } from '../store/entities';
import { Store } from '../store/store';
import { passwordMatches } from './passwords';
import { accountView, Sessions } from '../access/sessions';

@ApiTags('session')
@Controller()
export class SessionController {
  constructor(
    private readonly sessions: Sessions,
    private readonly rates: Rates,
    private readonly store: Store,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** Who is signed in, and whom a demo offers to sign in as. */
  @Get(paths.session)
  @ForAnyone()
  @ApiOkResponse({ type: SessionView })
  async show(@Req() request: FastifyRequest): Promise<SessionView> {
    const signedIn = await this.sessions.personOf(request.headers.cookie);
    const account = signedIn && (await this.store.em().findOne(Account, signedIn.id));
    return {
      ...(account ? { person: accountView(account) } : {}),
      demoPeople: this.settings.demo ? await this.demoPeople() : [],
    };
  }

  @Post(paths.session)
  @HttpCode(200)
  @ForAnyone()
  @BodyUpTo(4)
  @Counted('signIn')
  @ApiOkResponse({ type: SessionView })
  async signIn(
    @Body() { email, password }: SignIn,
    @Res({ passthrough: true }) reply: FastifyReply,
  ): Promise<SessionView> {
    const address = email.trim().toLowerCase();
    await this.rates.count('account', address);
    const account = await this.store.em().findOne(Account, { email: address });
    if (!(await passwordMatches(account?.passwordHash ?? null, password)) || !account) {
      throw new Refused({
        statusCode: 401,
        code: 'wrongPassword',
        message: 'The address or the password is not right. Check both and try again.',
      });
    }
    await this.rates.forget('account', address);
    return this.letIn(account, reply);
  }

  @Post(paths.demoSession)
  @HttpCode(200)
  @ForAnyone()
  @BodyUpTo(4)
  @ApiOkResponse({ type: SessionView })
  async signInToDemo(
    @Body() { personId }: SignInToDemo,
    @Res({ passthrough: true }) reply: FastifyReply,
  ): Promise<SessionView> {
    const account = this.settings.demo
      ? await this.store.em().findOne(Account, { id: personId, demo: true })
      : null;
    if (!account) throw Refused.notFound('person of the demo');
    return this.letIn(account, reply);
  }

  @Delete(paths.session)
  @HttpCode(204)
  @ForAnyone()
  async signOut(
    @Req() request: FastifyRequest,
    @Res({ passthrough: true }) reply: FastifyReply,
  ): Promise<void> {
    void reply.header('set-cookie', await this.sessions.close(request.headers.cookie));
  }

  private async letIn(account: Account, reply: FastifyReply): Promise<SessionView> {
    void reply.header('set-cookie', await this.sessions.open(account.id));
    return { person: accountView(account), demoPeople: [] };
  }

  private async demoPeople(): Promise<SessionView['demoPeople']> {
    const members = await this.store
      .em()
      .find(Membership, { account: { demo: true } }, { populate: ['account'] });
    const people = new Map(
      members.map(({ account, role }) => [account.id, { ...accountView(account), role }]),
    );
    return [...people.values()];
  }
}
