import { Global, Module } from '@nestjs/common';
import { ListAdder } from './listAdder';
import { ListHistory } from './listHistory';
import { ListKeeper } from './listKeeper';
import { ListReader } from './listReader';
import { ListsController } from './lists.controller';
import { ValuesWriter } from './valuesWriter';

@Global()
@Module({
  controllers: [ListsController],
  providers: [ListAdder, ListHistory, ListKeeper, ListReader, ValuesWriter],
  exports: [ListAdder],
})
export class ListPlaceModule {}
