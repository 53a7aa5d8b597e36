/** More slots than this are looked through as a whole. */
const MOST = 10_000;

/** The slots of a sheet whose records came, changed or went since they were taken last. */
export class TouchedSlots {
  private slots = new Set<number>();
  private areAll = true;

  note(slot: number): void {
    if (this.areAll) return;
    if (this.slots.size < MOST) this.slots.add(slot);
    else this.noteAll();
  }

  noteAll(): void {
    this.areAll = true;
    this.slots.clear();
  }

  /** What was touched, which counts as looked at from now on; all of them the first time. */
  take(): ReadonlySet<number> | 'all' {
    const taken = this.areAll ? 'all' : this.slots;
    this.areAll = false;
    this.slots = new Set();
    return taken;
  }
}
