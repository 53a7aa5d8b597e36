import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import { EventHub } from '../events/eventHub';
import { Lists, sayProblemOf, type Feed } from '../lists/lists';
import { Outbox } from '../outbox/outbox';
import { Catalog } from '../store/catalog';

type State = 'well' | 'broken' | 'empty';

/** Watches over lists: those who look after them are told when one breaks or runs empty. */
@Injectable()
export class ListKeeper implements OnModuleInit {
  /** By column: how its list was last. */
  private readonly states = new Map<string, State>();
  private readonly logger = new Logger('lists');

  constructor(
    private readonly lists: Lists,
    private readonly outbox: Outbox,
    private readonly catalog: Catalog,
    private readonly events: EventHub,
  ) {}

  onModuleInit(): void {
    this.lists.watch((workbookId, feed) => {
      this.look(workbookId, feed).catch((error: unknown) => this.logger.error(error));
    });
  }

  private async look(workbookId: string, feed: Feed): Promise<void> {
    const [first] = feed.columns;
    if (!first) return;
    const { column, sheetId } = first;
    const before = this.states.get(column.id);
    const state = stateOf(feed);
    if (state === before) return;
    this.states.set(column.id, state);
    const about = `list ${column.id}`;
    // One that never held anything waits for its first value.
    if (state === 'well' || (state === 'empty' && before === undefined)) {
      await this.outbox.over(workbookId, about);
      return;
    }
    const sheet = this.catalog.sheet(sheetId)?.name ?? '';
    const where = `${column.heading} in ${sheet}`;
    await this.outbox.tellOnce(workbookId, {
      subject:
        state === 'broken' ? `The list of ${where} is broken` : `The list of ${where} is empty`,
      text:
        state === 'broken'
          ? `${sayProblemOf(feed) ?? ''} Nothing can be chosen in ${column.heading} until its list works again. Stored values stay as they are.`
          : `Its source is empty now, so nothing can be chosen in ${column.heading}.`,
      link: `/workbooks/${workbookId}/lists/${sheetId}/${column.id}`,
      about,
    });
    // Whoever looks on reads what is in the outbox by now.
    this.events.signal(workbookId, { kind: 'lists', changes: [] });
  }
}

function stateOf({ problem, live }: Feed): State {
  if (problem) return 'broken';
  return live?.items.length === 0 ? 'empty' : 'well';
}
