import { Button, HStack, Link as ChakraLink } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { Link, useParams } from 'react-router';
import { addresses } from '../addresses';
import { SignedOut } from '../api/client';
import { useWaitingLine } from '../api/useWaitingLine';
import { Notice } from '../ui/Notice';

/** The records that wait to be sent, counted on every page; and those that came back refused. */
export function WaitingBar() {
  const { waiting, refused, why, line } = useWaitingLine();
  const { formId } = useParams();
  // Where a record can be settled its own page tells of it.
  const [elsewhere] = refused.filter((each) => each.formId !== formId);
  // What is on its way needs no word.
  const isStuck = waiting.length > 0 && why !== null;
  if (!isStuck && !elsewhere) return null;
  return (
    <HStack
      role="status"
      aria-label="Records that wait to be sent"
      px={{ base: '3', md: '5' }}
      py="1.5"
      gap="3"
      wrap="wrap"
      borderBottomWidth="1px"
      flex="none"
    >
      {isStuck && (
        <>
          <Notice tone="ask">
            {sayCountOf(waiting.length, 'record')} {waiting.length === 1 ? 'waits' : 'wait'} to be
            sent, kept in this browser. {why.message}
          </Notice>
          {!(why instanceof SignedOut) && (
            <Button size="xs" variant="outline" onClick={() => line.tryNow()}>
              Send now
            </Button>
          )}
        </>
      )}
      {elsewhere && (
        <>
          <Notice tone="refuse">
            {sayCountOf(refused.length, 'record')} that waited{' '}
            {refused.length === 1 ? 'was' : 'were'} refused.
          </Notice>
          <ChakraLink asChild>
            <Link to={addresses.desk(elsewhere.workbookId, elsewhere.formId)}>
              Settle it in {elsewhere.formName}
            </Link>
          </ChakraLink>
        </>
      )}
    </HStack>
  );
}
