import type { WrittenReference } from '../references/written';
import {
  FormulaError,
  type BinaryOperator,
  type Constant,
  type ErrorCode,
  type Expression,
  type FormulaProblem,
  type Span,
} from './expression';
import { lex, type Notation, type Token } from './lexer';

/** How deep parentheses, calls and signs may be nested. */
export const DEEPEST = 100;
/** The most operators of a formula: a tree of many more is deeper than a stack. */
export const MOST_OPERATORS = 1000;

/** Precedence, higher binds tighter (ODF 1.3 part 4, 5.5). All of them group from the left. */
export const BINDING: Readonly<Record<BinaryOperator, number>> = {
  '=': 1,
  '<>': 1,
  '<': 1,
  '<=': 1,
  '>': 1,
  '>=': 1,
  '&': 2,
  '+': 3,
  '-': 3,
  '*': 4,
  '/': 4,
  '^': 5,
};

/** What a formula's references and names stand for: a tree over written or stored references. */
interface Leaves<R> {
  /** What is stored was read before, and is read again however long it is. */
  readonly mostOperators: number;
  written(reference: WrittenReference): R | null;
  slot(index: number): R | null;
}

/**
 * Reads a formula as people write it, without its leading `=`. A sign before a value binds
 * tighter than `^`, as OpenFormula has it: `-2^2` is 4.
 *
 * @throws FormulaError with what is wrong and where
 */
export function parseWritten(text: string, notation: Notation): Expression<WrittenReference> {
  return parse(lex(text, notation), text.length, notation, {
    mostOperators: MOST_OPERATORS,
    written: (reference) => reference,
    slot: () => null,
  });
}

/** Reads a stored formula, whose references stand in a list beside its text. */
export function parseStored<R>(
  text: string,
  references: readonly R[],
  notation: Notation,
): Expression<R> {
  return parse(lex(text, notation), text.length, notation, {
    mostOperators: Infinity,
    written: () => null,
    slot: (index) => references[index] ?? null,
  });
}

function parse<R>(
  tokens: readonly Token[],
  length: number,
  notation: Notation,
  leaves: Leaves<R>,
): Expression<R> {
  return new Parser(
    tokens.filter(({ type }) => type !== 'space'),
    length,
    notation,
    leaves,
  ).whole();
}

class Parser<R> {
  private at = 0;
  private depth = 0;
  private operators = 0;

  constructor(
    private readonly tokens: readonly Token[],
    private readonly length: number,
    private readonly notation: Notation,
    private readonly leaves: Leaves<R>,
  ) {}

  whole(): Expression<R> {
    const [first] = this.tokens;
    if (!first) this.fail({ code: 'empty', from: 0, to: this.length });
    const expression = this.expression(0);
    const left = this.peek();
    if (left) this.fail({ code: 'operatorWanted', found: shown(left), ...spanOf(left) });
    return expression;
  }

  private expression(above: number): Expression<R> {
    this.depth += 1;
    if (this.depth > DEEPEST) {
      const span = this.peek() ?? { from: this.length, to: this.length };
      this.fail({ code: 'tooDeep', most: DEEPEST, from: span.from, to: span.to });
    }
    let left = this.operand();
    for (;;) {
      const operator = this.binaryOperator();
      if (operator === null || BINDING[operator] <= above) break;
      this.operators += 1;
      const most = this.leaves.mostOperators;
      if (this.operators > most) {
        this.fail({ code: 'tooManyOperators', most, from: left.to, to: this.length });
      }
      this.at += 1;
      const right = this.expression(BINDING[operator]);
      left = { type: 'binary', operator, left, right, from: left.from, to: right.to };
    }
    this.depth -= 1;
    return left;
  }

  private binaryOperator(): BinaryOperator | null {
    const token = this.peek();
    return token?.type === 'sign' && token.text in BINDING ? (token.text as BinaryOperator) : null;
  }

  /** A value with the signs before it and the percent signs after it. */
  private operand(): Expression<R> {
    const signs: { operator: '+' | '-'; from: number }[] = [];
    for (;;) {
      const token = this.peek();
      if (token?.type !== 'sign' || (token.text !== '-' && token.text !== '+')) break;
      signs.push({ operator: token.text, from: token.from });
      this.at += 1;
      if (signs.length > DEEPEST) this.fail({ code: 'tooDeep', most: DEEPEST, ...spanOf(token) });
    }
    let operand = this.primary();
    for (const { operator, from } of signs.reverse()) {
      operand = { type: 'unary', operator, operand, from, to: operand.to };
    }
    for (let percents = 0; this.isSign('%'); percents += 1) {
      const { from, to } = this.take();
      if (percents > DEEPEST) this.fail({ code: 'tooDeep', most: DEEPEST, from, to });
      operand = { type: 'unary', operator: '%', operand, from: operand.from, to };
    }
    return operand;
  }

  private primary(): Expression<R> {
    const token = this.peek();
    if (!token) this.fail({ code: 'valueWanted', found: '', from: this.length, to: this.length });
    const span = spanOf(token);
    switch (token.type) {
      case 'number':
        this.at += 1;
        return { type: 'constant', value: this.number(token.text, span), ...span };
      case 'text':
        this.at += 1;
        return { type: 'constant', value: token.value, ...span };
      case 'error':
        this.at += 1;
        return { type: 'constant', value: { error: token.text as ErrorCode }, ...span };
      case 'reference':
        return this.reference(this.leaves.written(token.reference), token);
      case 'slot':
        return this.reference(this.leaves.slot(token.index), token);
      case 'function':
        return this.call(token.name, token.from);
      case 'word':
        return this.word(token.text, token);
      default:
        if (this.isSign('(')) return this.parenthesis();
        if (this.isSign('{')) return this.array();
        return this.fail({ code: 'valueWanted', found: shown(token), ...span });
    }
  }

  private number(text: string, span: Span): number {
    const value = Number(text);
    if (!Number.isFinite(value)) this.fail({ code: 'numberTooLarge', text, ...span });
    return value;
  }

  private reference(reference: R | null, token: Token): Expression<R> {
    if (reference === null) {
      this.fail({ code: 'valueWanted', found: shown(token), ...spanOf(token) });
    }
    this.at += 1;
    return { type: 'reference', reference, ...spanOf(token) };
  }

  /** `TRUE` and `FALSE`, else the name of a range. */
  private word(text: string, token: Token): Expression<R> {
    const upper = text.toUpperCase();
    if (upper === 'TRUE' || upper === 'FALSE') {
      this.at += 1;
      return { type: 'constant', value: upper === 'TRUE', ...spanOf(token) };
    }
    const reference = this.leaves.written({ kind: 'name', name: text });
    if (reference === null) this.fail({ code: 'unknownName', name: text, ...spanOf(token) });
    return this.reference(reference, token);
  }

  private parenthesis(): Expression<R> {
    const { from, to: opened } = this.take();
    const inner = this.expression(0);
    if (!this.isSign(')')) {
      this.refuseUnlessEnd();
      this.fail({ code: 'unclosedParenthesis', name: null, from, to: opened });
    }
    return { ...inner, from, to: this.take().to };
  }

  private call(name: string, from: number): Expression<R> {
    this.at += 1;
    const { to: opened } = this.take();
    const args: Expression<R>[] = [];
    if (this.isSign(')')) return { type: 'call', name, args, from, to: this.take().to };
    for (;;) {
      const token = this.peek();
      const nothing = !token || this.isSeparator() || this.isSign(')');
      const here = token?.from ?? this.length;
      args.push(nothing ? { type: 'omitted', from: here, to: here } : this.expression(0));
      if (this.isSeparator()) this.at += 1;
      else if (this.isSign(')')) return { type: 'call', name, args, from, to: this.take().to };
      else {
        this.refuseUnlessEnd();
        this.fail({ code: 'unclosedParenthesis', name, from, to: opened });
      }
    }
  }

  /** `{1;2|3;4}`: `;` parts columns and `|` rows (ODF 1.3 part 4, 5.13). */
  private array(): Expression<R> {
    const { from, to: opened } = this.take();
    const rows: Constant[][] = [[]];
    for (;;) {
      rows.at(-1)?.push(this.constant());
      if (this.isSeparator()) this.at += 1;
      else if (this.isSign('|')) {
        this.at += 1;
        rows.push([]);
      } else if (this.isSign('}')) break;
      else {
        this.refuseUnlessEnd();
        this.fail({ code: 'unclosedArray', from, to: opened });
      }
    }
    const { to } = this.take();
    const first = rows[0]?.length ?? 0;
    const uneven = rows.find((row) => row.length !== first);
    if (uneven) this.fail({ code: 'unevenArray', first, here: uneven.length, from, to });
    return { type: 'array', rows, from, to };
  }

  private constant(): Constant {
    const expression = this.operand();
    const sign = expression.type === 'unary' && expression.operator === '-' ? -1 : 1;
    const inner = expression.type === 'unary' ? expression.operand : expression;
    if (inner.type !== 'constant' || (sign < 0 && typeof inner.value !== 'number')) {
      return this.fail({ code: 'valueWanted', found: '', from: inner.from, to: inner.to });
    }
    return typeof inner.value === 'number' ? sign * inner.value : inner.value;
  }

  private peek(): Token | undefined {
    return this.tokens[this.at];
  }

  private take(): Token {
    const token = this.peek();
    if (!token) this.fail({ code: 'valueWanted', found: '', from: this.length, to: this.length });
    this.at += 1;
    return token;
  }

  private isSign(text: string): boolean {
    const token = this.peek();
    return token?.type === 'sign' && token.text === text;
  }

  private isSeparator(): boolean {
    return this.isSign(';') || (this.notation.decimal !== ',' && this.isSign(','));
  }

  private refuseUnlessEnd(): void {
    const token = this.peek();
    if (token) this.fail({ code: 'operatorWanted', found: shown(token), ...spanOf(token) });
  }

  private fail(problem: FormulaProblem): never {
    throw new FormulaError(problem);
  }
}

const spanOf = ({ from, to }: Span): Span => ({ from, to });

function shown(token: Token): string {
  switch (token.type) {
    case 'sign':
    case 'word':
    case 'number':
    case 'error':
      return token.text;
    case 'function':
      return token.name;
    case 'text':
      return `"${token.value}"`;
    default:
      return '';
  }
}
