import { Module } from '@nestjs/common';
import { KeptTallies } from './keptTallies';
import { RuleReader } from './ruleReader';
import { RulesController } from './rules.controller';

@Module({ controllers: [RulesController], providers: [RuleReader, KeptTallies] })
export class RulesModule {}
