/**
 * Formulas of impedances: the same text, evaluated in complex numbers. The larger of two is that with the larger magnitude; what stands in the part of the
 * formula that decided is told.
 */
import { add, divide, magnitude, multiply, scale, subtract, type Complex } from '../linear/complex';
import { toBase, type Formula, type Name } from './formula';
import type { MathNode } from 'mathjs';

export type ComplexEvaluated =
  | {
      readonly ok: true;
      readonly value: Complex;
      /** Names that the value came from. */ readonly used: readonly string[];
    }
  | { readonly ok: false; readonly missing: readonly string[] };

interface Found {
  readonly value: Complex;
  readonly used: readonly string[];
}

class Missing extends Error {
  constructor(readonly names: readonly string[]) {
    super('not known');
  }
}

/** Values in the units of their names; null: not known. */
export function evaluateComplex(
  formula: Formula,
  values: Readonly<Record<string, Complex | null | undefined>>,
  names: ReadonlyMap<string, Name>,
): ComplexEvaluated {
  const known = (name: string): Found => {
    const value = values[name];
    if (!value) throw new Missing([name]);
    return { value: scale(value, toBase(names.get(name)!.unit)), used: [name] };
  };
  try {
    const { value, used } = valueOf(formula.tree, known);
    const inUnit = scale(value, 1 / toBase(formula.unit));
    if (!Number.isFinite(inUnit.re) || !Number.isFinite(inUnit.im)) return { ok: false, missing: used };
    return { ok: true, value: inUnit, used: [...new Set(used)] };
  } catch (error) {
    if (error instanceof Missing) return { ok: false, missing: error.names };
    throw error;
  }
}

interface Node {
  readonly type: string;
  readonly value?: number;
  readonly name?: string;
  readonly fn?: string | { readonly name?: string };
  readonly args?: readonly MathNode[];
  readonly content?: MathNode;
  readonly condition?: MathNode;
  readonly trueExpr?: MathNode;
  readonly falseExpr?: MathNode;
}

const real = (value: number): Complex => ({ re: value, im: 0 });

function valueOf(tree: MathNode, known: (name: string) => Found): Found {
  const node = tree as unknown as Node;
  const of = (each: MathNode) => valueOf(each, known);
  switch (node.type) {
    case 'ConstantNode':
      return { value: real(node.value!), used: [] };
    case 'SymbolNode':
      return known(node.name!);
    case 'ParenthesisNode':
      return of(node.content!);
    case 'ConditionalNode': {
      const truth = truthOf(node.condition!, known);
      return of(truth ? node.trueExpr! : node.falseExpr!);
    }
    case 'FunctionNode':
      return called((node.fn as { name: string }).name, node.args!, of);
    default:
      return operated(node.fn as string, node.args!.map(of));
  }
}

function operated(operator: string, args: readonly Found[]): Found {
  const used = args.flatMap((each) => each.used);
  const [p, q] = args.map(({ value }) => value);
  switch (operator) {
    case 'unaryMinus':
      return { value: scale(p, -1), used };
    case 'unaryPlus':
      return { value: p, used };
    case 'add':
      return { value: add(p, q), used };
    case 'subtract':
      return { value: subtract(p, q), used };
    case 'multiply':
      return { value: multiply(p, q), used };
    case 'divide':
      return { value: divide(p, q), used };
    default:
      return { value: powered(p, q.re), used };
  }
}

/** By magnitude and angle. */
function powered(base: Complex, exponent: number): Complex {
  const size = magnitude(base) ** exponent;
  const at = Math.atan2(base.im, base.re) * exponent;
  return { re: size * Math.cos(at), im: size * Math.sin(at) };
}

function called(name: string, args: readonly MathNode[], of: (each: MathNode) => Found): Found {
  if (name === 'firstKnown') {
    const missing: string[] = [];
    for (const each of args) {
      try {
        return of(each);
      } catch (error) {
        if (!(error instanceof Missing)) throw error;
        missing.push(...error.names);
      }
    }
    throw new Missing(missing);
  }
  const found = args.map(of);
  const [first] = found;
  switch (name) {
    case 'min':
      return found.reduce((p, q) => (magnitude(q.value) < magnitude(p.value) ? q : p));
    case 'max':
      return found.reduce((p, q) => (magnitude(q.value) > magnitude(p.value) ? q : p));
    case 'abs':
      return { value: real(magnitude(first.value)), used: first.used };
    case 'sqrt':
      return { value: powered(first.value, 0.5), used: first.used };
    default:
      return { value: real(Math.round(first.value.re)), used: first.used };
  }
}

/** Comparisons are of magnitudes. */
function truthOf(tree: MathNode, known: (name: string) => Found): boolean {
  const node = tree as unknown as Node;
  if (node.type === 'ParenthesisNode') return truthOf(node.content!, known);
  const operator = node.fn as string;
  if (operator === 'not') return !truthOf(node.args![0], known);
  if (operator === 'and') return node.args!.every((each) => truthOf(each, known));
  if (operator === 'or') return node.args!.some((each) => truthOf(each, known));
  const [p, q] = node.args!.map((each) => magnitude(valueOf(each, known).value));
  switch (operator) {
    case 'larger':
      return p > q;
    case 'smaller':
      return p < q;
    case 'largerEq':
      return p >= q;
    case 'smallerEq':
      return p <= q;
    case 'equal':
      return p === q;
    default:
      return p !== q;
  }
}
