import { Box, Button, HStack, Text, useMediaQuery } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCountOf } from '@varn/core';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Notice } from '../ui/Notice';
import { ChangeAll, RemoveAll } from './ChangeAll';
import { ManyDone } from './ManyDone';
import { MatchColumns } from './MatchColumns';
import { columnsShown, Matches } from './Matches';
import type { OpenRecord } from './openRecord';
import { PrintedMatches, usePrinting } from './Printed';
import { useCounts } from './useCounts';
import type { Desk } from './useDesk';
import { viewOf, type DeskPlace } from './useDeskPlace';

/** In windows lower than that a record and a table have no room beside each other. */
const LOW = '(max-height: 36rem)';

interface MatchesFootProps {
  readonly form: FormView;
  readonly desk: Desk;
  readonly place: DeskPlace;
  readonly record: OpenRecord | null;
}

/** The matches with what can be done to all of them. */
export function MatchesFoot({ form, desk, place, record }: MatchesFootProps) {
  const { sheet } = form;
  const { counts } = useCounts(sheet.id, place.question, sheet.count);
  const [acting, setActing] = useState<'change' | 'remove' | 'columns' | null>(null);
  const [done, setDone] = useState<{ says: string; writeId: string } | null>(null);
  const count = counts?.count ?? 0;
  const { locale } = desk.filled.context;
  const columns = useMemo(() => columnsShown(sheet, place.shown), [sheet, place.shown]);
  const { rows, failure, print } = usePrinting(sheet.id, place.view);
  const [isLow] = useMediaQuery([LOW], { ssr: false });
  const isFolded = isLow && record !== null;
  const [isOpen, setOpen] = useState(false);
  const says = counts ? sayCountOf(count, 'match', 'matches') : 'Counting…';
  const acts = {
    sheet,
    view: viewOf(place.question),
    count,
    onDone: (says: string, writeId: string) => {
      setActing(null);
      setDone({ says, writeId });
    },
    onClose: () => setActing(null),
  };
  return (
    <Box className={isFolded ? 'match-fold' : undefined}>
      {isFolded && (
        <button type="button" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
          {says}
        </button>
      )}
      <Box hidden={isFolded && !isOpen}>
        <HStack px={{ base: '3', md: '5' }} py="1.5" gap="2" wrap="wrap">
          {!isFolded && <Text fontWeight="600">{says}</Text>}
          {desk.mayEnter && count > 0 && (
            <>
              <Button size="xs" variant="outline" minH="28px" onClick={() => setActing('change')}>
                Change all
              </Button>
              <Button size="xs" variant="outline" minH="28px" onClick={() => setActing('remove')}>
                Delete all
              </Button>
            </>
          )}
          {count > 0 && (
            <Button asChild size="xs" variant="outline" minH="28px">
              <a href={paths.csv(sheet.id, 'on', place.view)} download>
                Take away as CSV
              </a>
            </Button>
          )}
          <Button
            size="xs"
            variant="outline"
            minH="28px"
            hideBelow="md"
            aria-expanded={acting === 'columns'}
            onClick={() => setActing(acting === 'columns' ? null : 'columns')}
          >
            Columns
          </Button>
          {count > 0 && (
            <Button size="xs" variant="outline" minH="28px" onClick={() => void print()}>
              Print
            </Button>
          )}
          {failure !== '' && <Notice tone="refuse">Not printed. {failure}</Notice>}
          {done && (
            <ManyDone {...done} workbookId={sheet.workbookId} onUndone={() => setDone(null)} />
          )}
        </HStack>
        {acting === 'columns' && (
          <MatchColumns
            sheet={sheet}
            shown={place.shown}
            onShow={place.setShown}
            onClose={() => setActing(null)}
          />
        )}
        {(acting === 'change' || acting === 'remove') && (
          <Box px={{ base: '3', md: '5' }}>
            {acting === 'change' ? <ChangeAll {...acts} /> : <RemoveAll {...acts} />}
          </Box>
        )}
        <Matches
          sheet={sheet}
          columns={columns}
          locale={locale}
          view={place.view}
          openId={record?.id ?? null}
          onOpen={place.step}
          order={place.order}
          onOrder={place.setOrder}
        />
        {rows && (
          <PrintedMatches says={counts?.says ?? ''} columns={columns} rows={rows} locale={locale} />
        )}
      </Box>
    </Box>
  );
}
