import {
  Box,
  Flex,
  IconButton,
  Link as ChakraLink,
  Stack,
  Text,
  useMediaQuery,
} from '@chakra-ui/react';
import { sayCount } from '@varn/core';
import {
  FileDown,
  History,
  ListChecks,
  ListFilter,
  NotebookText,
  PanelLeftClose,
  PanelLeftOpen,
  PencilRuler,
  Plus,
  Send,
  SquarePen,
  Table2,
  Settings,
  Trash2,
} from 'lucide-react';
import { Fragment, memo, useState, type ReactNode } from 'react';
import { Link, NavLink } from 'react-router';
import { mayAs } from '@varn/contract/roles';
import { useOutbox, useWorkbook } from '../api/resources';
import { addresses, workbookPlaces, type WorkbookPlace } from '../addresses';

const FOLDED = 'varn.spineFolded';
/** From this width on it has room. */
const WIDE = '(min-width: 48rem)';

const ICONS: Readonly<Record<WorkbookPlace, ReactNode>> = {
  Lists: <ListChecks size={15} />,
  Outbox: <Send size={15} />,
  History: <History size={15} />,
  Bin: <Trash2 size={15} />,
  Settings: <Settings size={15} />,
};

interface SpineProps {
  readonly workbookId: string | undefined;
}

/** The contents at the left; in narrow windows they are not even drawn, and the menu has them. */
export const Spine = memo(function Spine(props: SpineProps) {
  const [isWide] = useMediaQuery([WIDE], { ssr: false });
  return isWide ? <Contents {...props} /> : null;
});

/** The workbook's contents, as a table of contents; folds to a strip of icons. */
function Contents({ workbookId }: SpineProps) {
  const [folded, setFolded] = useState(() => localStorage.getItem(FOLDED) === 'yes');
  const { data: workbook } = useWorkbook(workbookId);
  const fold = (): void => {
    localStorage.setItem(FOLDED, folded ? 'no' : 'yes');
    setFolded(!folded);
  };
  return (
    <Flex
      as="nav"
      aria-label="Contents"
      direction="column"
      w={folded ? '48px' : '216px'}
      flex="none"
      borderEndWidth="1px"
      py="3"
      gap="3"
      overflow="hidden auto"
    >
      <Stack gap="0" flex="1">
        <Entry
          to={addresses.workbooks}
          icon={<NotebookText size={15} />}
          label="Workbooks"
          folded={folded}
        />
        {workbook && (
          <>
            {!folded && (
              <Text px="3" pt="4" pb="1" fontWeight="600" overflowWrap="anywhere">
                {workbook.name}
              </Text>
            )}
            {workbook.sheets.map((sheet) => (
              <Box key={sheet.id}>
                <Entry
                  to={addresses.sheet(workbook.id, sheet.id)}
                  icon={<Table2 size={15} />}
                  label={sheet.name}
                  {...(sheet.hasRecords && { count: sheet.records })}
                  folded={folded}
                />
                {sheet.forms.map((form) => (
                  <Fragment key={form.id}>
                    <Entry
                      to={addresses.desk(workbook.id, form.id)}
                      icon={<SquarePen size={15} />}
                      label={form.name}
                      folded={folded}
                      indented
                    />
                    {workbook.questions
                      .filter(({ formId }) => formId === form.id)
                      .map(({ id, name, address }) => (
                        <Entry
                          key={id}
                          to={`${addresses.desk(workbook.id, form.id)}?${address}`}
                          icon={<ListFilter size={15} />}
                          label={name}
                          folded={folded}
                          indented
                          isQuestion
                        />
                      ))}
                  </Fragment>
                ))}
              </Box>
            ))}
            <Box mt="3">
              {workbookPlaces(workbook.role).map(({ label, to }) =>
                label === 'Outbox' ? (
                  <Outbox key={label} workbookId={workbook.id} folded={folded} />
                ) : (
                  <Entry
                    key={label}
                    to={to(workbook.id)}
                    icon={ICONS[label]}
                    label={label}
                    folded={folded}
                  />
                ),
              )}
            </Box>
            {mayAs(workbook.role, 'analyst') && (
              <Box mt="3">
                <Entry
                  to={addresses.layOut(workbook.id)}
                  icon={<PencilRuler size={15} />}
                  label="Create a form"
                  folded={folded}
                />
                <Entry
                  to={addresses.addSheet(workbook.id)}
                  icon={<Plus size={15} />}
                  label="Add a sheet"
                  folded={folded}
                />
                <Entry
                  to={addresses.bringIn(workbook.id)}
                  icon={<FileDown size={15} />}
                  label="Bring in a file"
                  folded={folded}
                />
              </Box>
            )}
          </>
        )}
      </Stack>
      <IconButton
        aria-label={folded ? 'Expand the contents' : 'Collapse the contents'}
        aria-expanded={!folded}
        variant="ghost"
        size="sm"
        alignSelf={folded ? 'center' : 'end'}
        mx="2"
        onClick={fold}
      >
        {folded ? <PanelLeftOpen size={16} /> : <PanelLeftClose size={16} />}
      </IconButton>
    </Flex>
  );
}

/** Notices that wait to be read are counted. */
function Outbox({ workbookId, folded }: { workbookId: string; folded: boolean }) {
  const { data } = useOutbox(workbookId);
  const unread = data?.unread ?? 0;
  return (
    <Entry
      to={addresses.outbox(workbookId)}
      icon={ICONS.Outbox}
      label={unread > 0 && folded ? `Outbox, ${sayCount(unread)} unread` : 'Outbox'}
      {...(unread > 0 && { count: unread })}
      folded={folded}
    />
  );
}

interface EntryProps {
  readonly to: string;
  readonly icon: ReactNode;
  readonly label: string;
  readonly count?: number;
  readonly folded: boolean;
  readonly indented?: boolean;
  /** Whether it asks a question at the place above it. */
  readonly isQuestion?: boolean;
}

/** One line of the contents, its count at the end of a dotted leader. */
function Entry(props: EntryProps) {
  const { to, icon, label, count, folded, indented = false, isQuestion = false } = props;
  // A question marks no place: one is at the desk above it.
  const Way = isQuestion ? Link : NavLink;
  return (
    <ChakraLink
      asChild
      variant="plain"
      display="flex"
      alignItems="center"
      gap="2"
      px="3"
      py="5px"
      ps={folded ? '3' : isQuestion ? '11' : indented ? '7' : '3'}
      borderStartWidth="3px"
      borderColor="transparent"
      title={folded ? label : undefined}
      _hover={{ bg: 'leaf', textDecoration: 'none' }}
      css={{
        '&.active': { borderColor: 'brass', background: 'brass.wash', fontWeight: 600 },
        // Colours that are forced show what is transparent, and no washes.
        '@media (forced-colors: active)': {
          borderColor: 'Canvas',
          '&.active': { borderColor: 'Highlight', outline: '2px solid Highlight' },
        },
      }}
    >
      <Way to={to} aria-label={folded ? label : undefined} {...(!isQuestion && { end: true })}>
        <Box as="span" flex="none" color="ink.soft" aria-hidden>
          {icon}
        </Box>
        {!folded && (
          <>
            <Box as="span" minW="0" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
              {label}
            </Box>
            {count !== undefined && (
              <>
                <Box
                  as="span"
                  flex="1"
                  minW="3"
                  mb="4px"
                  alignSelf="end"
                  borderBottom="1px dotted {colors.edge}"
                  aria-hidden
                />
                <Box as="span" color="ink.soft" fontFamily="mono" fontSize="12px">
                  {sayCount(count)}
                </Box>
              </>
            )}
          </>
        )}
      </Way>
    </ChakraLink>
  );
}
