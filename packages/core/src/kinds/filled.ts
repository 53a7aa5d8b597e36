import { refuse, type Sentences } from '../values';
import type { Kind, KindId } from './kind';
import { formatMoment, showMoment } from './moment';
import { formatRunningNumber, PLAIN_PATTERN } from './runningNumber';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notTyped: { readonly kind: string };
  }
}

export const FILLED_SENTENCES: Sentences<'notTyped'> = {
  notTyped: ({ kind }) => `${kind} is filled in by Varn. Leave it out.`,
};

/** Kinds that nobody types: filled in by Varn or by a formula. */
function filled(kind: Omit<Kind, 'typing' | 'read' | 'show'> & Partial<Pick<Kind, 'show'>>): Kind {
  return {
    typing: 'none',
    show: showPlain,
    read: () => refuse({ code: 'notTyped', kind: kind.label }),
    ...kind,
  };
}

type FilledId = Extract<KindId, 'computed' | 'runningNumber' | 'writtenAt' | 'writtenBy' | 'door'>;

export const filledKinds: Readonly<Record<FilledId, Kind>> = {
  computed: filled({
    id: 'computed',
    tail: 'formula',
    holds: 'any',
    label: 'Computed',
    align: 'end',
    filledBy: 'formula',
    usualLength: 8,
  }),
  runningNumber: filled({
    id: 'runningNumber',
    tail: 'pattern',
    fill: ({ id, settings }, { nextNumber }) =>
      nextNumber && formatRunningNumber(settings.pattern ?? PLAIN_PATTERN, nextNumber(id)),
    holds: 'string',
    label: 'Running number',
    align: 'start',
    filledBy: 'varn',
    usualLength: 8,
  }),
  writtenAt: filled({
    id: 'writtenAt',
    fill: (_column, { at }) => at,
    holds: 'number',
    label: 'Written at',
    align: 'end',
    filledBy: 'varn',
    iso: 'moment',
    usualLength: 19,
    show: showMoment,
    format: formatMoment,
  }),
  writtenBy: filled({
    id: 'writtenBy',
    fill: (_column, { by }) => by,
    holds: 'string',
    label: 'Written by',
    align: 'start',
    filledBy: 'varn',
    usualLength: 16,
  }),
  door: filled({
    id: 'door',
    fill: (_column, { door }) => door,
    holds: 'string',
    label: 'Written through',
    align: 'start',
    filledBy: 'varn',
    usualLength: 16,
  }),
};
