import { Module } from '@nestjs/common';
import { RuleReader } from './ruleReader';
import { RulesController } from './rules.controller';

@Module({ controllers: [RulesController], providers: [RuleReader] })
export class RulesModule {}
