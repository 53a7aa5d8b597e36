import { Box, HStack, Stack, Text } from '@chakra-ui/react';
import { printReference, type Offer } from '@varn/core';
import { Fragment } from 'react';
import { Notice } from '../../ui/Notice';
import { describe, type FormulaHelp } from './useFormulaHelp';
import { rangeLetter } from './ranges';

interface FormulaPanelProps {
  readonly id: string;
  readonly help: FormulaHelp;
  readonly text: string;
  readonly onAccept: (offer: Offer) => void;
}

/** Help under a formula that is being typed: functions, arguments, ranges, what is wrong with it. */
export function FormulaPanel({ id, help, text, onAccept }: FormulaPanelProps) {
  const { offers, chosen, call, references, verdict } = help;
  const note = verdict?.notes[0];
  return (
    <Stack gap="2" p="2" fontSize="12px" lineHeight="1.4">
      {offers.length > 0 && (
        <Box role="listbox" id={id} aria-label="Functions and columns">
          {offers.map((offer, index) => (
            <Box
              key={`${offer.is} ${offer.name}`}
              id={`${id}-${index}`}
              role="option"
              aria-selected={index === chosen}
              px="2"
              py="1"
              cursor="pointer"
              bg={index === chosen ? 'brass.wash' : undefined}
              onMouseDown={(event) => {
                event.preventDefault();
                onAccept(offer);
              }}
            >
              <Text as="span" fontFamily="mono" fontWeight="600">
                {offer.name}
              </Text>{' '}
              <Text as="span" color="ink.soft">
                {offer.is === 'column' ? 'column' : describe(offer.name)?.about}
              </Text>
            </Box>
          ))}
        </Box>
      )}
      {call && offers.length === 0 && <Signature {...call} />}
      {references.length > 0 && (
        <HStack gap="3" wrap="wrap">
          {references.map(({ reference, from }, index) => (
            <Text key={from} as="span" fontFamily="mono">
              <Box as="span" className={`range-letter tone-${index % 4}`}>
                {rangeLetter(index)}
              </Box>{' '}
              {printReference(reference)}
            </Text>
          ))}
        </HStack>
      )}
      {note && (
        <Notice tone={note.strictness}>
          {note.message}
          <PointedAt text={text} from={note.from} to={note.to} />
        </Notice>
      )}
      {verdict && note?.strictness !== 'refuse' && verdict.gives.length > 0 && (
        <Text color="ink.soft">
          Gives{' '}
          <Text as="span" fontFamily="mono" color="ink">
            {verdict.gives.map((each) => each || 'blank').join(', ')}
          </Text>
        </Text>
      )}
    </Stack>
  );
}

function Signature({ name, argument }: { name: string; argument: number }) {
  const known = describe(name);
  if (!known) return null;
  const { parameters } = known;
  const repeating = parameters.filter(({ repeats }) => repeats).length;
  const fixed = parameters.length - repeating;
  const at =
    argument < parameters.length || repeating === 0
      ? argument
      : fixed + ((argument - fixed) % repeating);
  return (
    <Box>
      <Text fontFamily="mono">
        {name}(
        {parameters.map(({ text }, index) => (
          <Fragment key={text}>
            {index > 0 ? '; ' : ''}
            <Box
              as="span"
              {...(index === at && { fontWeight: '700', textDecoration: 'underline' })}
            >
              {text}
            </Box>
          </Fragment>
        ))}
        )
      </Text>
      <Text color="ink.soft">{known.about}</Text>
    </Box>
  );
}

/** The formula with the stretch that is meant marked, and pointed at from below. */
export function PointedAt({ text, from, to }: { text: string; from: number; to: number }) {
  const start = Math.max(0, from - 24);
  const end = Math.max(to, from + 1);
  return (
    <Box as="span" display="block" fontFamily="mono" whiteSpace="pre" overflow="hidden" color="ink">
      {start > 0 ? '…' : ''}
      {text.slice(start, from)}
      <Box as="mark" bg="transparent" color="madder" textDecoration="underline wavy">
        {text.slice(from, end) || '▲'}
      </Box>
      {text.slice(end, end + 24)}
    </Box>
  );
}
