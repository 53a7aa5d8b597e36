import { Global, Module } from '@nestjs/common';
import { Rates } from '../access/rates';
import { SessionController } from './session.controller';
import { Sessions } from './sessions';

@Global()
@Module({
  controllers: [SessionController],
  providers: [Sessions, Rates],
  exports: [Sessions, Rates],
})
export class AccountsModule {}
