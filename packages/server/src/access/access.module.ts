import { Global, Module } from '@nestjs/common';
import { Rates } from './rates';
import { Sessions } from './sessions';

@Global()
@Module({ providers: [Sessions, Rates], exports: [Sessions, Rates] })
export class AccessModule {}
