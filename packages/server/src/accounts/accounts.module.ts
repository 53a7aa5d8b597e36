import { Global, Module } from '@nestjs/common';
import { ThrottlerModule } from '@nestjs/throttler';
import { SessionController } from './session.controller';
import { Sessions } from './sessions';

@Global()
@Module({
  imports: [ThrottlerModule.forRoot([{ limit: 10, ttl: 60_000 }])],
  controllers: [SessionController],
  providers: [Sessions],
  exports: [Sessions],
})
export class AccountsModule {}
