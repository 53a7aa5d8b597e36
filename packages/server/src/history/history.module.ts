import { Module } from '@nestjs/common';
import { BinReader } from './binReader';
import { HistoryController } from './history.controller';
import { HistoryReader } from './historyReader';

@Module({ controllers: [HistoryController], providers: [HistoryReader, BinReader] })
export class HistoryModule {}
