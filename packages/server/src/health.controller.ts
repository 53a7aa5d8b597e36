import { Health, paths } from '@varn/contract';
import { Controller, Get, Inject } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { ForAnyone } from './access/access';
import { Admission } from './http/admission';
import { SETTINGS, type Settings } from './settings';
import { Store } from './store/store';
import { VERSION } from './version';

@ApiTags('health')
@Controller()
export class HealthController {
  constructor(
    private readonly store: Store,
    private readonly admission: Admission,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  /** Whether the server answers and reaches its database, and how many requests wait. */
  @Get(paths.health)
  @ForAnyone()
  @ApiOkResponse({ type: Health })
  async show(): Promise<Health> {
    await this.store.reading((database) => database.pragma('schema_version'));
    return { status: 'ok', version: VERSION, demo: this.settings.demo, ...this.admission.view() };
  }
}
