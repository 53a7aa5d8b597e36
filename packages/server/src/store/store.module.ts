import { BetterSqliteDriver } from '@mikro-orm/better-sqlite';
import { MikroOrmModule } from '@mikro-orm/nestjs';
import { Global, Module } from '@nestjs/common';
import { mkdirSync } from 'node:fs';
import { SETTINGS, type Settings } from '../settings';
import { Catalog } from './catalog';
import { storeConfig } from './config';
import { databaseIn } from './dataFolder';
import { SheetCache } from './sheetCache';
import { Store } from './store';

@Global()
@Module({
  imports: [
    MikroOrmModule.forRootAsync({
      driver: BetterSqliteDriver,
      useFactory: ({ data }: Settings) => {
        mkdirSync(data, { recursive: true });
        return { ...storeConfig(databaseIn(data)), registerRequestContext: false };
      },
      inject: [SETTINGS],
    }),
  ],
  providers: [Store, Catalog, SheetCache],
  exports: [Store, Catalog, SheetCache],
})
export class StoreModule {}
