import { Box, Text } from '@chakra-ui/react';
import type { OutlineOffer } from '@varn/core';

interface OffersListProps {
  readonly id: string;
  readonly offers: readonly OutlineOffer[];
  /** The one keys are on, -1 for none. */
  readonly pointed: number;
  readonly onTake: (offer: OutlineOffer) => void;
}

/** What a line being typed could go on with: a short list under it (ARIA's listbox). */
export function OffersList({ id, offers, pointed, onTake }: OffersListProps) {
  return (
    <Box
      id={id}
      role="listbox"
      aria-label="What the line can go on with"
      className="offers"
      // The line keeps the focus while the list is clicked.
      onMouseDown={(event) => event.preventDefault()}
    >
      {offers.map((offer, index) => (
        <Box
          key={offer.text}
          id={`${id}-${index}`}
          role="option"
          aria-selected={index === pointed}
          className="offer"
          onClick={() => onTake(offer)}
        >
          <Text as="span" fontWeight="600">
            {offer.text.replace(/[\s("]+$/, '')}
          </Text>
          {offer.about !== '' && (
            <Text as="span" color="ink.soft" fontSize="12.5px">
              {offer.about}
            </Text>
          )}
        </Box>
      ))}
    </Box>
  );
}
