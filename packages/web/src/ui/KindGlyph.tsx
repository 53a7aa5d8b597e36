import { KINDS, type KindId } from '@varn/core';
import {
  CalendarDays,
  CircleDot,
  Clock,
  Coins,
  DoorOpen,
  Globe,
  Hash,
  ListChecks,
  ListOrdered,
  Mail,
  Paperclip,
  PenLine,
  Phone,
  Ruler,
  Sigma,
  Stamp,
  TextCursor,
  ToggleLeft,
  CalendarClock,
  type LucideIcon,
} from 'lucide-react';

const GLYPHS: Readonly<Record<KindId, LucideIcon>> = {
  text: TextCursor,
  wholeNumber: Hash,
  number: Ruler,
  money: Coins,
  date: CalendarDays,
  time: Clock,
  moment: CalendarClock,
  yesNo: ToggleLeft,
  oneChoice: CircleDot,
  severalChoices: ListChecks,
  email: Mail,
  phone: Phone,
  webAddress: Globe,
  file: Paperclip,
  computed: Sigma,
  runningNumber: ListOrdered,
  writtenAt: Stamp,
  writtenBy: PenLine,
  door: DoorOpen,
};

/** A column's kind as a small sign, with its name for those who can't see it. */
export function KindGlyph({ kind, size = 13 }: { kind: KindId; size?: number }) {
  const Glyph = GLYPHS[kind];
  return <Glyph size={size} aria-label={KINDS[kind].label} role="img" style={{ flex: 'none' }} />;
}
