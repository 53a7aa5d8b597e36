import { Module, type DynamicModule } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, APP_PIPE, DiscoveryModule } from '@nestjs/core';
import { LoggerModule } from 'nestjs-pino';
import { AccessGuard } from './access/accessGuard';
import { AccessModule } from './access/access.module';
import { AccountsModule } from './accounts/accounts.module';
import { CalculationModule } from './calculation/calculation.module';
import { DemoModule } from './demo/demo.module';
import { EventsModule } from './events/events.module';
import { FilesModule } from './files/files.module';
import { FormsModule } from './forms/forms.module';
import { HistoryModule } from './history/history.module';
import { HealthController } from './health.controller';
import { ListPlaceModule } from './listPlace/listPlace.module';
import { RulesModule } from './rules/rules.module';
import { ListsModule } from './lists/lists.module';
import { LogModule } from './log/log.module';
import { OutboxModule } from './outbox/outbox.module';
import { Admission } from './http/admission';
import { Costs } from './turns/costs';
import { RefusalFilter } from './http/refusalFilter';
import { ShapePipe } from './http/shapePipe';
import { SearchModule } from './search/search.module';
import { SETTINGS, type Settings } from './settings';
import { SheetsModule } from './sheets/sheets.module';
import { StoreModule } from './store/store.module';
import { UploadsModule } from './uploads/uploads.module';
import { WorkbooksModule } from './workbooks/workbooks.module';
import { WriteModule } from './write/write.module';

@Module({})
export class AppModule {
  static with(settings: Settings): DynamicModule {
    return {
      module: AppModule,
      imports: [
        {
          module: SettingsModule,
          providers: [{ provide: SETTINGS, useValue: settings }],
          exports: [SETTINGS],
          global: true,
        },
        // Requests are logged by `http/requestLog.ts`, and only those that tell something.
        LoggerModule.forRoot({ pinoHttp: { level: settings.logLevel }, forRoutes: [] }),
        StoreModule,
        AccessModule,
        AccountsModule,
        LogModule,
        EventsModule,
        CalculationModule,
        OutboxModule,
        ListsModule,
        WriteModule,
        ListPlaceModule,
        RulesModule,
        WorkbooksModule,
        SheetsModule,
        SearchModule,
        HistoryModule,
        FormsModule,
        FilesModule,
        UploadsModule,
        DemoModule,
        DiscoveryModule,
      ],
      controllers: [HealthController],
      providers: [
        { provide: APP_GUARD, useExisting: AccessGuard },
        AccessGuard,
        Admission,
        Costs,
        { provide: APP_PIPE, useClass: ShapePipe },
        { provide: APP_FILTER, useClass: RefusalFilter },
      ],
    };
  }
}

@Module({})
class SettingsModule {}
