import { FUNCTIONS, nearFunction } from './functions/table';
import type { Expression, FormulaProblem } from './grammar/expression';
import { walk } from './grammar/tree';

/** The first call of a function that is not there, or with too few or too many arguments. */
export function callProblem<R>(expression: Expression<R>): FormulaProblem | null {
  let found: FormulaProblem | null = null;
  walk(expression, (each) => {
    if (found || each.type !== 'call') return;
    const { name, args, from } = each;
    const span = { from, to: from + name.length };
    const definition = FUNCTIONS.get(name);
    if (!definition) {
      found = { code: 'unknownFunction', name, near: nearFunction(name), ...span };
    } else if (
      args.length < definition.least ||
      (definition.most !== null && args.length > definition.most)
    ) {
      const { least, most } = definition;
      found = { code: 'argumentCount', name, given: args.length, least, most, ...span };
    }
  });
  return found;
}
