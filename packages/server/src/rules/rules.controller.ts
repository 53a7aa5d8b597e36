import { BrokenView, paths, SuggestedRulesView, TryRules } from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { For } from '../access/access';
import { RuleReader } from './ruleReader';

@ApiTags('rules')
@Controller()
export class RulesController {
  constructor(private readonly reader: RuleReader) {}

  /** Tells which stored values would break rules, and changes nothing. */
  @Post(paths.brokenRules(':sheetId', ':columnId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: BrokenView })
  broken(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() { rules }: TryRules,
  ): Promise<BrokenView> {
    return this.reader.broken(sheetId, columnId, rules);
  }

  /** Tells rules that nearly all stored values of a column follow. */
  @Get(paths.suggestedRules(':sheetId', ':columnId'))
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: SuggestedRulesView })
  suggested(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
  ): Promise<SuggestedRulesView> {
    return this.reader.suggested(sheetId, columnId);
  }
}
