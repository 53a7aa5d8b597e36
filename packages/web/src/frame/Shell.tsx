import { Box, Flex, HStack, IconButton, Link as ChakraLink, Text } from '@chakra-ui/react';
import { Menu as MenuIcon, Moon, Sun } from 'lucide-react';
import { lazy, memo, Suspense, useEffect, useState, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { useWorkbookEvents } from '../api/events';
import { useSession, useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { focusBar } from '../keys/focusBar';
import { useColorMode } from '../theme/colorMode';
import { useSignOut } from './useSignOut';
import { GaveWayBar } from './GaveWayBar';
import { Spine } from './Spine';
import { WaitingBar } from './WaitingBar';
import './low.css';

/** Loaded when it is first opened. */
const PersonMenu = lazy(() => import('./PersonMenu'));

interface ShellProps {
  /** Where one is, from the workbook down; the last is the page's heading. */
  readonly trail: readonly { label: string; to?: string }[];
  /** The bar of the place. */
  readonly bar?: ReactNode;
  readonly children: ReactNode;
  /** Notes on what is chosen on the page. */
  readonly margin?: ReactNode;
  readonly foot?: ReactNode;
  /** What stands around page, margin and foot, as dragging from one to the other does. */
  readonly around?: ((children: ReactNode) => ReactNode) | undefined;
}

/**
 * Spine, head line, page, margin and foot: the frame of every place. Places draw it anew at each
 * key; what it holds of its own then stays as it is.
 */
export function Shell({ trail, bar, children, margin, foot, around = asIs }: ShellProps) {
  const { workbookId } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const gaveWay = useWorkbookEvents(workbookId, workbook?.seq);
  const title = trail.at(-1)?.label ?? 'Varn';
  useEffect(() => {
    document.title = `${title} · Varn`;
  }, [title]);
  return (
    <Flex direction="column" h="100dvh">
      <a className="skip-link" href="#page">
        Skip to the page
      </a>
      <Flex
        as="header"
        className="frame-head"
        align="center"
        gap="3"
        px="3"
        minH="44px"
        borderBottomWidth="1px"
        flex="none"
      >
        <ChakraLink asChild variant="plain" fontWeight="700" letterSpacing="0.02em">
          <Link to={addresses.workbooks}>Varn</Link>
        </ChakraLink>
        <Trail trail={trail} />
        <Box flex="1" />
        <Person />
      </Flex>
      <Flex flex="1" minH="0">
        <Spine workbookId={workbookId} />
        <Flex
          direction="column"
          flex="1"
          minW="0"
          // Escape leaves whatever one is in for the bar, unless it closes something first.
          onKeyDown={(event) => event.key === 'Escape' && !event.defaultPrevented && focusBar()}
        >
          <WaitingBar />
          {gaveWay && <GaveWayBar />}
          {bar && (
            <Box
              as="section"
              aria-label="Actions"
              className="frame-bar"
              px={{ base: '3', md: '5' }}
              py="2"
              borderBottomWidth="1px"
              flex="none"
            >
              {bar}
            </Box>
          )}
          {around(
            <>
              <Flex flex="1" minH="0" direction={{ base: 'column', lg: 'row' }}>
                <Box
                  as="main"
                  id="page"
                  tabIndex={-1}
                  outline="none"
                  flex="1"
                  minH="0"
                  minW="0"
                  overflow="auto"
                  position="relative"
                >
                  {children}
                </Box>
                {margin}
              </Flex>
              {foot}
            </>,
          )}
        </Flex>
      </Flex>
    </Flex>
  );
}

const asIs = (children: ReactNode): ReactNode => children;

const Trail = memo(function Trail({ trail }: Pick<ShellProps, 'trail'>) {
  return (
    <HStack gap="2" minW="0" overflow="hidden" whiteSpace="nowrap">
      {trail.map(({ label, to }, index) => (
        <HStack
          key={to ?? label}
          gap="2"
          minW="0"
          flexShrink={index === trail.length - 1 ? 0 : 1}
          hideBelow={index < trail.length - 1 ? 'md' : undefined}
        >
          <Box as="span" color="ink.soft" aria-hidden>
            /
          </Box>
          {to ? (
            <ChakraLink asChild color="ink.soft" overflow="hidden" textOverflow="ellipsis">
              <Link to={to}>{label}</Link>
            </ChakraLink>
          ) : (
            <Text as="h1" fontWeight="600" overflow="hidden" textOverflow="ellipsis" maxW="60vw">
              {label}
            </Text>
          )}
        </HStack>
      ))}
    </HStack>
  );
}, isSameTrail);

type TrailProps = Pick<ShellProps, 'trail'>;

const written = ({ trail }: TrailProps): string =>
  trail.map(({ label, to = '' }) => `${to} ${label}`).join('\n');

function isSameTrail(a: TrailProps, b: TrailProps): boolean {
  return written(a) === written(b);
}

/** Who is signed in, light or dark, the way out; on a phone the contents too. */
const Person = memo(function Person() {
  const { data: session } = useSession();
  const { mode, switchMode } = useColorMode();
  const signOut = useSignOut();
  const [isWanted, setWanted] = useState(false);
  const name = session?.person?.name ?? '';
  const button = (
    <IconButton
      variant="ghost"
      size="sm"
      px="2"
      aria-label={`${name}: menu`}
      aria-haspopup="menu"
      onClick={() => setWanted(true)}
    >
      <Box as="span" hideBelow="md">
        {name}
      </Box>
      <MenuIcon size={16} />
    </IconButton>
  );
  return (
    <HStack gap="1" flex="none">
      <IconButton
        variant="ghost"
        size="sm"
        onClick={switchMode}
        aria-label={mode === 'dark' ? 'Switch to light' : 'Switch to dark'}
      >
        {mode === 'dark' ? <Sun size={16} /> : <Moon size={16} />}
      </IconButton>
      {isWanted ? (
        <Suspense fallback={button}>
          <PersonMenu onSignOut={signOut.start}>{button}</PersonMenu>
        </Suspense>
      ) : (
        button
      )}
      {signOut.dialog}
    </HStack>
  );
});
