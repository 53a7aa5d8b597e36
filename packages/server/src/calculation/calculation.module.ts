import { Global, Module } from '@nestjs/common';
import { Calculator } from './calculator';

@Global()
@Module({ providers: [Calculator], exports: [Calculator] })
export class CalculationModule {}
