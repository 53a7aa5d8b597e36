import type { ListUseView, RenamedItem, RenamedItemView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useState } from 'react';
import { request } from '../../api/client';
import { useValuesChange } from './useValuesChange';
import { ValuesAsked } from './ValuesAsked';

interface CarryOnProps {
  readonly workbookId: string;
  readonly sheetId: string;
  /** The item that was just renamed in that sheet. */
  readonly renamed: RenamedItem;
}

/** Offers to carry the new name of a list's item into the records that hold the old one. */
export function CarryOn({ workbookId, sheetId, renamed }: CarryOnProps) {
  const [uses, setUses] = useState<readonly ListUseView[]>([]);
  useEffect(() => {
    let isGone = false;
    request<RenamedItemView>('POST', paths.renamedItem(sheetId), renamed).then(
      (found) => isGone || setUses(found.uses),
      // Nothing is offered then: the list's page tells of values that left it.
      () => undefined,
    );
    return () => {
      isGone = true;
    };
  }, [sheetId, renamed]);
  return uses.map((use) => <Carried key={use.columnId} {...{ workbookId, use, renamed }} />);
}

interface CarriedProps extends Pick<CarryOnProps, 'workbookId' | 'renamed'> {
  readonly use: ListUseView;
}

function Carried({ workbookId, use, renamed: { before, after } }: CarriedProps) {
  const changing = useValuesChange(workbookId, use.sheetId);
  const { ask } = changing;
  useEffect(() => {
    void ask(use.columnId, [{ from: [before], to: after }]);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- asked once for each renaming
  }, [use.columnId, before, after]);
  return <ValuesAsked changing={changing} offeredIn={use.sheet} />;
}
