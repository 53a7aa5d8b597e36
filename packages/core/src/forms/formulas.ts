import type { Block, FormDefinition, StartingValue } from './definition';

/** Where a formula stands on a form. */
export interface FormulaPlace<F> {
  readonly block: Block<F>;
  readonly use: 'shownWhen' | 'requiredWhen' | 'start' | 'message';
  readonly formula: F;
}

/** The formulas of a form, in the order of the page. */
export function formulasOf<F>({ blocks }: FormDefinition<F>): FormulaPlace<F>[] {
  const places: FormulaPlace<F>[] = [];
  for (const block of blocks) {
    const put = (use: FormulaPlace<F>['use'], formula: F | undefined): void => {
      if (formula !== undefined) places.push({ block, use, formula });
    };
    put('shownWhen', block.shownWhen);
    if (block.is === 'message') put('message', block.formula);
    if (block.is !== 'field' && block.is !== 'group') continue;
    put('requiredWhen', block.requiredWhen);
    if (block.start?.kind === 'formula') put('start', block.start.formula);
  }
  return places;
}

/** The same form with each of its formulas written in another way. */
export function mapFormulas<F, G>(
  definition: FormDefinition<F>,
  write: (formula: F) => G,
): FormDefinition<G> {
  return { ...definition, blocks: definition.blocks.map((block) => mapBlock(block, write)) };
}

function mapBlock<F, G>(block: Block<F>, write: (formula: F) => G): Block<G> {
  const { shownWhen, ...rest } = block;
  const shown = shownWhen === undefined ? {} : { shownWhen: write(shownWhen) };
  if (rest.is === 'message') return { ...rest, ...shown, formula: write(rest.formula) };
  if (rest.is !== 'field' && rest.is !== 'group') return { ...rest, ...shown };
  const { requiredWhen, start, ...plain } = rest;
  return {
    ...plain,
    ...shown,
    ...(requiredWhen !== undefined && { requiredWhen: write(requiredWhen) }),
    ...(start && { start: mapStart(start, write) }),
  };
}

function mapStart<F, G>(start: StartingValue<F>, write: (formula: F) => G): StartingValue<G> {
  return start.kind === 'formula' ? { ...start, formula: write(start.formula) } : start;
}
