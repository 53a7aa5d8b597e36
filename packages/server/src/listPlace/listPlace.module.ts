import { Global, Module } from '@nestjs/common';
import { ColumnValues } from './columnValues';
import { ListAdder } from './listAdder';
import { ListHistory } from './listHistory';
import { ListKeeper } from './listKeeper';
import { ListReader } from './listReader';
import { ListsController } from './lists.controller';
import { ValuesWriter } from './valuesWriter';

@Global()
@Module({
  controllers: [ListsController],
  providers: [ColumnValues, ListAdder, ListHistory, ListKeeper, ListReader, ValuesWriter],
  exports: [ListAdder],
})
export class ListPlaceModule {}
