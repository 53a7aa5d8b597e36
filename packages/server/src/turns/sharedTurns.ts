/** How many pieces may be begun in one turn, however short they are. */
const MOST_A_TURN = 64;

/**
 * Begins pieces of work that wait, for so long at most in each turn of the event loop; whoever
 * knocks meanwhile is heard between the turns. Each piece is begun in an immediate of its own, so
 * that what it goes on with by itself (promises that are kept already) is done, and has been
 * measured, before the next one begins.
 */
export class SharedTurns {
  private isAwake = false;
  /** Whether something may wait that was not asked for yet. */
  private isWanted = false;
  private began = 0;

  /**
   * @param ms how long pieces are begun in a turn
   * @param next the piece whose turn it is; `undefined` where none waits
   * @param isHeld whether a turn is left out, asked at its beginning
   */
  constructor(
    private readonly ms: number,
    private readonly next: () => (() => void) | undefined,
    private readonly isHeld: () => boolean = () => false,
  ) {}

  /** Has the turns go on, as something waits. */
  wake(): void {
    this.isWanted = true;
    if (this.isAwake) return;
    this.isAwake = true;
    this.plan();
  }

  /** What is planned here runs in the loop's next turn, after those who knock have been heard. */
  private plan(): void {
    let isOver = false;
    const step = (): void => {
      isOver ||= performance.now() - this.began >= this.ms;
      if (isOver) return;
      const piece = this.next();
      this.isWanted = piece !== undefined;
      isOver = !this.isWanted;
      piece?.();
    };
    setImmediate(() => {
      this.began = performance.now();
      isOver = this.isHeld();
    });
    for (let n = 0; n < MOST_A_TURN; n += 1) setImmediate(step);
    setImmediate(() => {
      if (this.isWanted) this.plan();
      else this.isAwake = false;
    });
  }
}
