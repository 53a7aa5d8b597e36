import { Global, Module } from '@nestjs/common';
import { OutboxController } from './outbox.controller';
import { Mailer, Outbox } from './outbox';

@Global()
@Module({
  controllers: [OutboxController],
  providers: [Outbox, { provide: Mailer, useExisting: Outbox }],
  exports: [Outbox, Mailer],
})
export class OutboxModule {}
