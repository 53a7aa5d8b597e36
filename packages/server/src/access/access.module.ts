import { Global, Module } from '@nestjs/common';
import { Rates } from './rates';
import { SecretWords } from './secretWords';
import { Sessions } from './sessions';

@Global()
@Module({ providers: [Sessions, Rates, SecretWords], exports: [Sessions, Rates, SecretWords] })
export class AccessModule {}
