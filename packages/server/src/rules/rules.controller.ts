import {
  BrokenView,
  paths,
  ProblemsView,
  PutSecretWord,
  SecretWordsView,
  SuggestedRulesView,
  TryRules,
} from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { AskedBy, Costly, For } from '../access/access';
import { Asker } from '../turns/asker';
import { SecretWords } from '../access/secretWords';
import { RuleReader } from './ruleReader';

@ApiTags('rules')
@Controller()
export class RulesController {
  constructor(
    private readonly reader: RuleReader,
    private readonly words: SecretWords,
  ) {}

  /** Tells which stored values would break rules, and changes nothing. */
  @Post(paths.brokenRules(':sheetId', ':columnId'))
  @HttpCode(200)
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: BrokenView })
  broken(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() { rules }: TryRules,
  ): Promise<BrokenView> {
    return this.reader.broken(sheetId, columnId, rules);
  }

  /** Tells how many stored values break rules, by sheet. */
  @Get(paths.problems(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ type: ProblemsView })
  problems(@Param('workbookId') workbookId: string): Promise<ProblemsView> {
    return this.reader.problems(workbookId);
  }

  /** Tells under which names words are kept that admit. */
  @Get(paths.secretWords(':workbookId'))
  @For('analyst', 'workbookId')
  @ApiOkResponse({ type: SecretWordsView })
  secretWords(@Param('workbookId') workbookId: string): SecretWordsView {
    return { names: this.words.namesOf(workbookId) };
  }

  /** Keeps a word that admits under a name, in place of the one that was kept there. */
  @Put(paths.secretWords(':workbookId'))
  @For('analyst', 'workbookId')
  @ApiOkResponse({ type: SecretWordsView })
  async putSecretWord(
    @Param('workbookId') workbookId: string,
    @Body() { name, word }: PutSecretWord,
  ): Promise<SecretWordsView> {
    await this.words.put(workbookId, name, word);
    return { names: this.words.namesOf(workbookId) };
  }

  /** Tells rules that nearly all stored values of a column follow. */
  @Get(paths.suggestedRules(':sheetId', ':columnId'))
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: SuggestedRulesView })
  suggested(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @AskedBy() asker: Asker,
  ): Promise<SuggestedRulesView> {
    return this.reader.suggested(sheetId, columnId, asker);
  }
}
