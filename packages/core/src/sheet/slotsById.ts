/** Parts of the map, each of which grows by itself. */
const PARTS = 256;
/** Characters at the end of an id that tell which part it is in. */
const LOOKED_AT = 6;

/** Which slot a record has. In parts: a map of a million entries takes a tenth of a second to grow. */
export class SlotsById {
  private readonly parts = Array.from({ length: PARTS }, () => new Map<string, number>());

  get(id: string): number | undefined {
    return this.partOf(id).get(id);
  }

  has(id: string): boolean {
    return this.partOf(id).has(id);
  }

  set(id: string, slot: number): void {
    this.partOf(id).set(id, slot);
  }

  delete(id: string): void {
    this.partOf(id).delete(id);
  }

  private partOf(id: string): Map<string, number> {
    // By the last characters: ids are random, or numbered at their end.
    let hash = 0;
    for (let at = Math.max(0, id.length - LOOKED_AT); at < id.length; at += 1) {
      hash = (hash * 31 + id.charCodeAt(at)) | 0;
    }
    // Some parts get more than others, so that they grow at different times.
    const part = Math.min(hash & (PARTS - 1), (hash >>> 9) & (PARTS - 1));
    return this.parts[part] as Map<string, number>;
  }
}
