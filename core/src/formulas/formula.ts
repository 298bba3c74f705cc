/**
 * Formulas that people write: of a fixed list of names, with units, evaluated in a closed scope. Parsed and evaluated by mathjs; what it could do beyond
 * arithmetic is refused. Unknown names and units that do not go together are told at their place in the text.
 */
import {
  absDependencies,
  addDependencies,
  andDependencies,
  divideDependencies,
  equalDependencies,
  largerDependencies,
  largerEqDependencies,
  maxDependencies,
  minDependencies,
  multiplyDependencies,
  notDependencies,
  orDependencies,
  parseDependencies,
  powDependencies,
  roundDependencies,
  smallerDependencies,
  smallerEqDependencies,
  sqrtDependencies,
  subtractDependencies,
  unaryMinusDependencies,
  unaryPlusDependencies,
  unequalDependencies,
  unitDependencies,
  ConstantNodeDependencies,
  create,
  type MathNode,
  type Unit,
} from 'mathjs';
import { lettersApart } from './near';

/** No more of the library than formulas need. */
const math = create({
  absDependencies,
  addDependencies,
  andDependencies,
  divideDependencies,
  equalDependencies,
  largerDependencies,
  largerEqDependencies,
  maxDependencies,
  minDependencies,
  multiplyDependencies,
  notDependencies,
  orDependencies,
  parseDependencies,
  powDependencies,
  roundDependencies,
  smallerDependencies,
  smallerEqDependencies,
  sqrtDependencies,
  subtractDependencies,
  unaryMinusDependencies,
  unaryPlusDependencies,
  unequalDependencies,
  unitDependencies,
  ConstantNodeDependencies,
});

/** A quantity that formulas may name. */
export interface Name {
  readonly name: string;
  readonly title: string;
  /** Of its value: "A", "s", "ohm", "kV"; empty for a bare number. */
  readonly unit: string;
}

/** What is wrong with a formula, from the first character to behind the last one that it is about. */
export interface FormulaProblem {
  readonly message: string;
  readonly from: number;
  readonly to: number;
}

export interface Formula {
  readonly text: string;
  /** Of what it comes to. */
  readonly unit: string;
  /** Names that stand in it, in the order of the text. */
  readonly names: readonly string[];
  /** @internal */
  readonly tree: MathNode;
  /** @internal Evaluators by which of the names are known. */
  readonly made: Map<string, Evaluator>;
}

interface Evaluator {
  readonly missing: readonly string[];
  evaluate(scope: Record<string, number>): unknown;
}

export type Compiled =
  | { readonly ok: true; readonly formula: Formula }
  | { readonly ok: false; readonly problems: readonly FormulaProblem[] };

/** A value in the unit of the formula; or what of it is not known. */
export type Evaluated =
  { readonly ok: true; readonly value: number } | { readonly ok: false; readonly missing: readonly string[] };

/** Units that may stand after a number, with what they are for mathjs. */
const unitWords: Readonly<Record<string, string>> = {
  A: 'A',
  kA: 'kA',
  mA: 'mA',
  V: 'V',
  kV: 'kV',
  ohm: 'ohm',
  mohm: 'mohm',
  s: 's',
  ms: 'ms',
  W: 'W',
  kW: 'kW',
  MW: 'MW',
  kVA: 'kW',
  MVA: 'MW',
  km: 'km',
  m: 'm',
  Hz: 'Hz',
  deg: 'deg',
};
export const formulaUnits: readonly string[] = Object.keys(unitWords);

/** Functions that may be called, with how many arguments they take at least and at most. */
const functions: Readonly<Record<string, { readonly least: number; readonly most: number; readonly help: string }>> = {
  min: { least: 2, most: 12, help: 'the smallest of them' },
  max: { least: 2, most: 12, help: 'the largest of them' },
  abs: { least: 1, most: 1, help: 'without its sign' },
  sqrt: { least: 1, most: 1, help: 'square root' },
  round: { least: 1, most: 1, help: 'to the next whole number' },
  firstKnown: { least: 2, most: 12, help: 'the first of them that is known' },
};
export const formulaFunctions: readonly { readonly name: string; readonly help: string }[] = Object.entries(
  functions,
).map(([name, { help }]) => ({ name, help }));

const additive = new Set(['add', 'subtract']);
const compared = new Set(['larger', 'smaller', 'largerEq', 'smallerEq', 'equal', 'unequal']);
const logical = new Set(['and', 'or', 'not']);
export const longestFormula = 400;

/** A formula of these names whose result has this unit; `unit` empty: a bare number. */
export function compile(text: string, names: readonly Name[], unit: string): Compiled {
  const whole = { from: 0, to: text.length };
  if (text.trim() === '') return failed('a formula is needed', whole);
  if (text.length > longestFormula) return failed(`longer than ${longestFormula} characters`, whole);
  let tree: MathNode;
  try {
    tree = math.parse(text);
  } catch (error) {
    return failed(...toldByParser(text, error as Error));
  }
  try {
    const checker = new Checker(text, tree, names);
    const result = checker.dimensionOf(tree);
    if (result === 'truth') return failed('this is a question, not a quantity', whole);
    if (!alike(result, dimension(unit)))
      return failed(`comes to ${saidUnit(result)}, ${unit === '' ? 'a bare number' : unit} is needed`, whole);
    const used = [...new Set(checker.used)];
    return { ok: true, formula: { text, unit, names: used, tree: inBaseUnits(tree), made: new Map() } };
  } catch (error) {
    if (error instanceof Refused) return { ok: false, problems: [error.problem] };
    throw error;
  }
}

/** Values in the units of their names; undefined, null or no number: not known. */
export function evaluate(
  formula: Formula,
  values: Readonly<Record<string, number | null | undefined>>,
  names: ReadonlyMap<string, Name>,
): Evaluated {
  const known = formula.names.filter((name) => isKnown(values[name]));
  const key = known.join(' ');
  let made = formula.made.get(key);
  if (!made) formula.made.set(key, (made = evaluator(formula, new Set(known))));
  if (made.missing.length > 0) return { ok: false, missing: made.missing };
  const scope = Object.fromEntries(known.map((name) => [name, values[name]! * toBase(names.get(name)!.unit)]));
  const value = Number(made.evaluate(scope)) / toBase(formula.unit);
  // Nothing finite comes of a division by zero: that is not known either.
  return Number.isFinite(value) ? { ok: true, value } : { ok: false, missing: known };
}

const isKnown = (value: number | null | undefined): value is number =>
  typeof value === 'number' && Number.isFinite(value);

/** Of `firstKnown` what is known stays; what is left without a value is missing. */
function evaluator(formula: Formula, known: ReadonlySet<string>): Evaluator {
  const missingIn = (node: MathNode): string[] => [
    ...new Set(symbolsOf(node).filter((name) => formula.names.includes(name) && !known.has(name))),
  ];
  const settle = (node: MathNode): MathNode => {
    const { name, args } = asCall(node);
    if (name !== 'firstKnown') return node.map(settle);
    const settled = args.map(settle);
    return settled.find((each) => missingIn(each).length === 0) ?? settled[settled.length - 1];
  };
  const tree = settle(formula.tree);
  const missing = missingIn(tree);
  if (missing.length > 0) return { missing, evaluate: () => NaN };
  const code = tree.compile();
  return { missing, evaluate: (scope) => code.evaluate(scope) as unknown };
}

const symbolsOf = (node: MathNode): string[] => {
  const found: string[] = [];
  node.traverse((each) => {
    if (each.type === 'SymbolNode') found.push((each as unknown as { name: string }).name);
  });
  return found;
};

interface Loose {
  readonly type: string;
  readonly value?: unknown;
  readonly name?: string;
  readonly fn?: string | Loose;
  readonly args?: readonly MathNode[];
  readonly implicit?: boolean;
  readonly content?: MathNode;
  readonly condition?: MathNode;
  readonly trueExpr?: MathNode;
  readonly falseExpr?: MathNode;
}
const loose = (node: MathNode): Loose => node as unknown as Loose;

const asCall = (node: MathNode): { name: string | null; args: readonly MathNode[] } => {
  const { type, fn, args } = loose(node);
  return { name: type === 'FunctionNode' && typeof fn === 'object' ? (fn.name ?? null) : null, args: args ?? [] };
};

/** A number with a unit behind it: "0.3 s". */
function literalOf(node: MathNode): { value: number; unit: string } | null {
  const { type, fn, args, implicit } = loose(node);
  if (type !== 'OperatorNode' || fn !== 'multiply' || !implicit || args?.length !== 2) return null;
  const [first, unit] = args.map(loose);
  // The sign binds tighter than the unit: "-1 s".
  const isNegative = first.type === 'OperatorNode' && first.fn === 'unaryMinus';
  const number = isNegative ? loose(first.args![0]) : first;
  if (number.type !== 'ConstantNode' || unit.type !== 'SymbolNode' || !Object.hasOwn(unitWords, unit.name!))
    return null;
  return { value: (isNegative ? -1 : 1) * Number(number.value), unit: unit.name! };
}

const inBaseUnits = (tree: MathNode): MathNode =>
  tree.transform((node) => {
    const literal = literalOf(node);
    return literal ? new math.ConstantNode(literal.value * toBase(literal.unit)) : node;
  });

/** A bare number, or a unit. */
type Dimension = Unit | 'number';

const dimensions = new Map<string, Dimension>([['', 'number']]);
function dimension(unit: string): Dimension {
  let known = dimensions.get(unit);
  if (known === undefined) dimensions.set(unit, (known = math.unit(1, unitWords[unit] ?? unit)));
  return known;
}

/** Factor to SI base units. */
const factors = new Map<string, number>();
export function toBase(unit: string): number {
  let factor = factors.get(unit);
  if (factor === undefined) {
    const of = dimension(unit);
    factor = of === 'number' ? 1 : (of.toSI() as unknown as { value: number; toNumeric(): number }).toNumeric();
    factors.set(unit, factor);
  }
  return factor;
}

const alike = (p: Dimension, q: Dimension): boolean => (p === 'number' || q === 'number' ? p === q : p.equalBase(q));

const common = ['A', 's', 'V', 'ohm', 'W', 'm', 'Hz', 'deg'] as const;
const saidUnit = (of: Dimension): string =>
  of === 'number' ? 'a bare number' : (common.find((unit) => alike(of, dimension(unit))) ?? 'another unit');

class Refused extends Error {
  constructor(readonly problem: FormulaProblem) {
    super(problem.message);
  }
}

interface Span {
  readonly from: number;
  readonly to: number;
}

/** Numbers, names and signs of per cent: the leaves of a formula, in the order of its text. */
const leafPattern = /\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+(?:[eE][+-]?\d+)?|[\p{L}_$][\p{L}\p{N}_$]*|%/gu;
const words = new Set(['and', 'or', 'not', 'mod', 'to', 'in', 'xor']);

/** Walks a formula once, from left to right, so that each leaf is known by its place in the text. */
class Checker {
  readonly used: string[] = [];
  private readonly spans = new Map<MathNode, Span>();
  private readonly names: ReadonlyMap<string, Name>;

  constructor(
    private readonly text: string,
    tree: MathNode,
    names: readonly Name[],
  ) {
    this.names = new Map(names.map((each) => [each.name, each]));
    const places = [...text.matchAll(leafPattern)]
      .filter(([word]) => !words.has(word))
      .map(({ index, 0: word }): Span => ({ from: index, to: index + word.length }));
    const leaves: MathNode[] = [];
    const collect = (node: MathNode): void => {
      const { type } = loose(node);
      if (type === 'ConstantNode' || type === 'SymbolNode') leaves.push(node);
      else if (type === 'FunctionNode') {
        leaves.push(node);
        asCall(node).args.forEach(collect);
      } else node.forEach(collect);
    };
    collect(tree);
    if (leaves.length === places.length) leaves.forEach((leaf, k) => this.spans.set(leaf, places[k]));
  }

  /** From the first to the last leaf of a node; the whole text where that is not known. */
  private spanOf(node: MathNode): Span {
    let [from, to] = [Infinity, -Infinity];
    node.traverse((each) => {
      const span = this.spans.get(each);
      if (span) [from, to] = [Math.min(from, span.from), Math.max(to, span.to)];
    });
    return from < to ? { from, to } : { from: 0, to: this.text.length };
  }

  private refuse(node: MathNode, message: string): never {
    throw new Refused({ message, ...this.spanOf(node) });
  }

  dimensionOf(node: MathNode): Dimension | 'truth' {
    const { type, name, content, condition, trueExpr, falseExpr, value } = loose(node);
    switch (type) {
      case 'ConstantNode':
        if (typeof value !== 'number') this.refuse(node, 'numbers only');
        return 'number';
      case 'SymbolNode':
        return this.ofName(node, name!);
      case 'ParenthesisNode':
        return this.dimensionOf(content!);
      case 'ConditionalNode': {
        if (this.dimensionOf(condition!) !== 'truth') this.refuse(condition!, 'a comparison is needed before the "?"');
        return this.same([trueExpr!, falseExpr!], node);
      }
      case 'OperatorNode':
        return this.ofOperator(node);
      case 'FunctionNode':
        return this.ofCall(node);
      default:
        return this.refuse(node, 'only numbers, names, + − * / ^, comparisons and functions can be used');
    }
  }

  private ofName(node: MathNode, name: string): Dimension {
    const known = this.names.get(name);
    if (known) {
      this.used.push(name);
      return dimension(known.unit);
    }
    if (Object.hasOwn(unitWords, name)) return this.refuse(node, `"${name}" is a unit: a number must stand before it`);
    if (Object.hasOwn(functions, name)) return this.refuse(node, `"${name}" is a function: write ${name}(…)`);
    const near = nearest(name, [...this.names.keys()]);
    return this.refuse(node, `there is no "${name}"${near ? `; is "${near}" meant?` : ''}`);
  }

  private quantity(node: MathNode): Dimension {
    const result = this.dimensionOf(node);
    return result === 'truth' ? this.refuse(node, 'a comparison is no quantity') : result;
  }

  /** Of nodes that must all have the same unit. */
  private same(nodes: readonly MathNode[], at: MathNode): Dimension {
    const [first, ...rest] = nodes.map((each) => this.quantity(each));
    for (const each of rest)
      if (!alike(first, each)) this.refuse(at, `${saidUnit(first)} and ${saidUnit(each)} do not go together`);
    return first;
  }

  private ofOperator(node: MathNode): Dimension | 'truth' {
    const { fn, args } = loose(node);
    const literal = literalOf(node);
    if (literal) return dimension(literal.unit);
    const operator = fn as string;
    if (operator === 'unaryMinus' || operator === 'unaryPlus') return this.quantity(args![0]);
    if (logical.has(operator)) {
      for (const each of args!)
        if (this.dimensionOf(each) !== 'truth') this.refuse(each, `"${operator}" joins comparisons`);
      return 'truth';
    }
    if (additive.has(operator)) return this.same(args!, node);
    if (compared.has(operator)) {
      this.same(args!, node);
      return 'truth';
    }
    const [left, right] = args!.map((each) => this.quantity(each));
    if (operator === 'multiply' || operator === 'divide') {
      if (left === 'number' && right === 'number') return 'number';
      const result =
        operator === 'multiply' ? math.multiply(asUnit(left), asUnit(right)) : math.divide(asUnit(left), asUnit(right));
      return reduced(result);
    }
    if (operator === 'pow') {
      if (right !== 'number') this.refuse(args![1], 'an exponent is a bare number');
      if (left === 'number') return 'number';
      const exponent = loose(args![1]);
      if (exponent.type !== 'ConstantNode')
        this.refuse(args![1], 'a quantity with a unit takes a plain number as exponent');
      return reduced(math.pow(left, Number(exponent.value)));
    }
    return this.refuse(node, `"${(node as unknown as { op: string }).op}" cannot be used here`);
  }

  private ofCall(node: MathNode): Dimension {
    const { name, args } = asCall(node);
    const known = name === null ? undefined : functions[name];
    if (!known || !Object.hasOwn(functions, name!)) {
      const near = name === null ? null : nearest(name, Object.keys(functions));
      return this.refuse(node, `there is no function "${name ?? ''}"${near ? `; is "${near}" meant?` : ''}`);
    }
    if (args.length < known.least || args.length > known.most)
      return this.refuse(
        node,
        `${name} takes ${known.least === known.most ? known.least : `${known.least} or more`} value${known.most === 1 ? '' : 's'}`,
      );
    if (name === 'abs') return this.quantity(args[0]);
    if (name === 'sqrt') {
      const of = this.quantity(args[0]);
      return of === 'number' ? of : reduced(math.pow(of, 0.5));
    }
    if (name === 'round') {
      if (this.quantity(args[0]) !== 'number') this.refuse(node, 'only a bare number can be rounded');
      return 'number';
    }
    return this.same(args, node);
  }
}

const asUnit = (of: Dimension): Unit => (of === 'number' ? math.unit(1) : of);

/** A unit whose dimensions have cancelled out is a bare number. */
function reduced(result: unknown): Dimension {
  if (typeof result === 'number') return 'number';
  const unit = result as Unit;
  return (unit as unknown as { dimensions: number[] }).dimensions.every((power) => Math.abs(power) < 1e-9)
    ? 'number'
    : unit;
}

const failed = (message: string, { from, to }: Span): Compiled => ({ ok: false, problems: [{ message, from, to }] });

/** Where the parser stopped, in our words. */
function toldByParser(text: string, { message }: Error): [string, Span] {
  const at = Number(/\(char (\d+)\)/.exec(message)?.[1] ?? text.length + 1) - 1;
  const from = Math.min(Math.max(at, 0), Math.max(text.length - 1, 0));
  const what = /Unexpected end/.test(message)
    ? 'something is missing at the end'
    : /Parenthesis/.test(message)
      ? 'a parenthesis is not closed'
      : 'this cannot be read';
  return [what, { from, to: Math.max(from + 1, text.length === 0 ? 0 : Math.min(from + 1, text.length)) }];
}

/** The name that is least far from what was typed, when it is near enough to be meant. */
function nearest(typed: string, names: readonly string[]): string | null {
  const scored = names.map((name) => ({ name, away: lettersApart(typed.toLowerCase(), name.toLowerCase()) }));
  const best = scored.sort((p, q) => p.away - q.away || (p.name < q.name ? -1 : 1))[0];
  return best && best.away <= Math.max(typed.length < 4 ? 1 : 2, Math.floor(typed.length / 3)) ? best.name : null;
}
