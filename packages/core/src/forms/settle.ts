/** What stands in the inputs of a record, by input id; what is blank may be left out. */
type Texts = Readonly<Record<string, string>>;

/** Two people's corrections of one record, brought together. */
export interface Settled {
  /** What both leave: where they differ, what is mine until it is decided. */
  readonly texts: Texts;
  /** Inputs that only the other one changed: theirs was taken. */
  readonly taken: readonly string[];
  /** Inputs that both changed, each to something else: to be decided. */
  readonly contested: readonly string[];
}

/**
 * A three-way merge of a record: what only one of the two changed is taken as they have it, what
 * both changed alike stands, and the rest is to be decided by the one who comes later.
 *
 * @param base what both began with
 * @param mine as it stands in the fields
 * @param theirs as it is stored by now
 */
export function settle(base: Texts, mine: Texts, theirs: Texts): Settled {
  const ids = new Set([base, mine, theirs].flatMap(Object.keys));
  const texts: Record<string, string> = {};
  const taken: string[] = [];
  const contested: string[] = [];
  for (const id of ids) {
    const [was, own = '', other = ''] = [base[id] ?? '', mine[id], theirs[id]];
    if (other === was || other === own) texts[id] = own;
    else {
      texts[id] = own === was ? other : own;
      (own === was ? taken : contested).push(id);
    }
  }
  return { texts, taken, contested };
}
