import { Button } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Column } from '@varn/core';
import { useState } from 'react';
import { request, sayError } from '../api/client';
import { Notice } from '../ui/Notice';

interface RenameColumnProps {
  readonly sheet: SheetView;
  readonly column: Column<string>;
  /** What the form calls it. */
  readonly heading: string;
  readonly onRenamed: () => void;
}

/** Offers to call a column of the sheet what the form calls it; it is not done unasked. */
export function RenameColumn({ sheet, column, heading, onRenamed }: RenameColumnProps) {
  const [failure, setFailure] = useState('');
  const rename = (): void => {
    const body = { heading, revision: sheet.revision };
    request('PATCH', paths.column(sheet.id, column.id), body).then(onRenamed, (error: unknown) =>
      setFailure(sayError(error)),
    );
  };
  return (
    <>
      <Button size="2xs" variant="outline" onClick={rename}>
        Rename the column to ‘{heading}’ too
      </Button>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </>
  );
}
