import type { Landed, VerdictView } from '@varn/contract';
import { BegunPlace, type BegunWork } from './begunWork';
import { ownClaims, type Claims } from './claims';
import { ApiRefusal, NoAnswer, sayError, SignedOut } from './client';
import { waitBefore } from './insist';
import { ownStore, type OwnStore } from './ownStore';
import { untilSignedIn } from './signedOut';

/** A new record that was submitted without an answer, as it is sent. */
export interface WaitingSubmit {
  readonly workbookId: string;
  readonly formId: string;
  readonly formName: string;
  readonly path: string;
  readonly body: WaitingBody;
  /** Its place in the line, from 1. */
  readonly place: number;
  /** Why the server did not take it: it waits to be settled by a person. */
  readonly refused?: { readonly message: string; readonly verdicts: readonly VerdictView[] };
}

export interface WaitingBody {
  readonly writeId: string;
  readonly answers: Readonly<Record<string, string>>;
  readonly untouched?: readonly string[];
}

/** What is known of the line. The same object until something of it changes. */
export interface LineState {
  /** Those that are still to be sent, in their order. */
  readonly waiting: readonly WaitingSubmit[];
  readonly refused: readonly WaitingSubmit[];
  /** Why the first of them waits; `null` where it is on its way. */
  readonly why: NoAnswer | null;
}

const LINE = 'line';
/** How often it is looked whether another window still sends. */
const LOOKS_AGAIN_MS = 5000;

/**
 * Submits of one person that got no answer, kept in the browser and sent in their order, each under
 * its write id and so once, by one window at a time.
 */
export class WaitingLine {
  private readonly kept: BegunPlace<WaitingSubmit>;
  private readonly listeners = new Set<() => void>();
  private readonly landedListeners = new Set<(landed: Landed) => void>();
  private later: ReturnType<typeof setTimeout> | undefined;
  private state: LineState;
  private isSending = false;
  private attempt = 0;
  private onWritten: (submit: WaitingSubmit, landed: Landed) => void = () => undefined;

  /** @param send asks the server @throws what it refused with, NoAnswer */
  constructor(
    own: OwnStore,
    private readonly send: (submit: WaitingSubmit) => Promise<Landed>,
    private readonly claims: Claims = ownClaims(),
  ) {
    this.kept = new BegunPlace(own, LINE, claims);
    this.state = { ...this.read(), why: null };
  }

  /** @param onWritten told of each that the server took */
  start(onWritten: (submit: WaitingSubmit, landed: Landed) => void): () => void {
    this.onWritten = onWritten;
    const onStorage = (): void => {
      this.tell({});
      this.lookAgain();
    };
    const onOnline = (): void => this.tryNow();
    window.addEventListener('storage', onStorage);
    window.addEventListener('online', onOnline);
    void this.drain();
    return () => {
      window.removeEventListener('storage', onStorage);
      window.removeEventListener('online', onOnline);
      clearTimeout(this.later);
      this.later = undefined;
    };
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  /** Tells of each submit of the line that was written, by this window. */
  readonly onLanded = (listener: (landed: Landed) => void): (() => void) => {
    this.landedListeners.add(listener);
    return () => void this.landedListeners.delete(listener);
  };

  readonly snapshot = (): LineState => this.state;

  /** Puts a submit at the end. It is kept from here on, whatever happens to the page. */
  add(submit: Omit<WaitingSubmit, 'place' | 'refused'>, why: NoAnswer | null): void {
    const last = this.kept.kept().reduce((most, { work }) => Math.max(most, work.place), 0);
    this.kept.keep(submit.body.writeId, { ...submit, place: last + 1 });
    this.tell({ why: why ?? this.state.why });
    // Behind others it is sent when their turn has come.
    if (this.state.waiting.length === 1) this.again(why ? waitBefore(0) : 0);
    else this.lookAgain();
  }

  /** Forgets one that was refused and is settled elsewhere. */
  drop(writeId: string): void {
    this.kept.drop(writeId);
    this.tell({});
  }

  tryNow(): void {
    clearTimeout(this.later);
    void this.drain();
  }

  private async drain(): Promise<void> {
    if (this.isSending || this.state.waiting.length === 0) return;
    this.isSending = true;
    try {
      if (!(await this.claims.claim(LINE))) {
        this.again(LOOKS_AGAIN_MS);
        return;
      }
      for (let next = this.next(); next; next = this.next()) {
        if (!(await this.sendOne(next))) return;
      }
      this.claims.release(LINE);
    } finally {
      this.isSending = false;
    }
  }

  /** @returns whether the server answered */
  private async sendOne({ id, work }: BegunWork<WaitingSubmit>): Promise<boolean> {
    try {
      const landed = await this.send(work);
      this.kept.drop(id);
      this.attempt = 0;
      this.onWritten(work, landed);
      this.tell({ why: null });
      this.landedListeners.forEach((listener) => listener(landed));
      return true;
    } catch (error) {
      if (!(error instanceof NoAnswer)) {
        const verdicts = error instanceof ApiRefusal ? (error.refusal.verdicts ?? []) : [];
        this.kept.keep(id, { ...work, refused: { message: sayError(error), verdicts } });
        this.tell({ why: null });
        return true;
      }
      this.tell({ why: error });
      if (error instanceof SignedOut) void untilSignedIn().then(() => this.drain());
      else this.again(waitBefore((this.attempt += 1)));
      return false;
    }
  }

  private again(ms: number): void {
    clearTimeout(this.later);
    this.later = setTimeout(() => {
      this.later = undefined;
      void this.drain();
    }, ms);
  }

  /** The window that sends may be closed before it is done. */
  private lookAgain(): void {
    const isIdle = !this.isSending && this.later === undefined;
    if (isIdle && this.state.waiting.length > 0) this.again(LOOKS_AGAIN_MS);
  }

  private next(): BegunWork<WaitingSubmit> | undefined {
    return inOrder(this.kept.kept()).find(({ work }) => !work.refused);
  }

  private read(): Pick<LineState, 'waiting' | 'refused'> {
    const all = inOrder(this.kept.kept()).map(({ work }) => work);
    return {
      waiting: all.filter(({ refused }) => !refused),
      refused: all.filter(({ refused }) => refused),
    };
  }

  private tell(more: Partial<Pick<LineState, 'why'>>): void {
    this.state = { ...this.state, ...more, ...this.read() };
    this.listeners.forEach((listener) => listener());
  }
}

const inOrder = (all: BegunWork<WaitingSubmit>[]): BegunWork<WaitingSubmit>[] =>
  all.sort((a, b) => a.work.place - b.work.place);

const lines = new Map<string, WaitingLine>();

/** The line of one person, of which each window has one. */
export function lineOf(
  personId: string,
  send: (submit: WaitingSubmit) => Promise<Landed>,
): WaitingLine {
  const line = lines.get(personId) ?? new WaitingLine(ownStore(personId), send);
  lines.set(personId, line);
  return line;
}
