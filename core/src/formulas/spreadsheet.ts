/**
 * A formula as spreadsheets take it, so that a workbook goes on calculating: real numbers by arithmetic, impedances by the functions for complex numbers.
 * The result is a magnitude, in the unit of the formula, as `complexValue` gives it.
 */
import type { MathNode } from 'mathjs';
import { toBase, type Formula, type Name } from './formula';

/** Where a quantity stands: one cell, or two for a complex one. Null: not known. */
export type CellOf = (
  name: string,
) => { readonly re: string; readonly im: string | null; readonly isPositive?: boolean } | null;

interface Part {
  readonly text: string;
  readonly isComplex: boolean;
  /** Real, and never below nought: then its size is itself. */
  readonly isPositive?: boolean;
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

class Unknown extends Error {}

/** Null where one of its quantities stands nowhere. */
export function spreadsheetFormula(formula: Formula, names: ReadonlyMap<string, Name>, cellOf: CellOf): string | null {
  const known = (name: string): Part => {
    const cell = cellOf(name);
    if (!cell) throw new Unknown(name);
    const factor = toBase(names.get(name)!.unit);
    const scaled = (text: string) => (factor === 1 ? text : `(${text}*${factor})`);
    return cell.im === null
      ? real(scaled(cell.re), cell.isPositive)
      : { text: `COMPLEX(${scaled(cell.re)},${scaled(cell.im)})`, isComplex: true };
  };
  try {
    const factor = toBase(formula.unit);
    const text = sizeOf(partOf(formula.tree, known));
    return factor === 1 ? text : `(${text})/${factor}`;
  } catch (error) {
    if (error instanceof Unknown) return null;
    throw error;
  }
}

const sizeOf = ({ text, isComplex, isPositive }: Part): string =>
  isComplex ? `IMABS(${text})` : isPositive ? text : `ABS(${text})`;
const real = (text: string, isPositive = false): Part => ({ text, isComplex: false, isPositive });
const asComplex = ({ text, isComplex }: Part): string => (isComplex ? text : `COMPLEX(${text},0)`);

const operators: Readonly<Record<string, { readonly sign: string; readonly complex: string }>> = {
  add: { sign: '+', complex: 'IMSUM' },
  subtract: { sign: '-', complex: 'IMSUB' },
  multiply: { sign: '*', complex: 'IMPRODUCT' },
  divide: { sign: '/', complex: 'IMDIV' },
};

function partOf(tree: MathNode, known: (name: string) => Part): Part {
  const node = tree as unknown as Node;
  const of = (each: MathNode) => partOf(each, known);
  switch (node.type) {
    case 'ConstantNode':
      return real(String(node.value!), node.value! >= 0);
    case 'SymbolNode':
      return known(node.name!);
    case 'ParenthesisNode':
      return of(node.content!);
    case 'ConditionalNode': {
      const [yes, no] = [of(node.trueExpr!), of(node.falseExpr!)];
      return chosen(truthOf(node.condition!, known), yes, no);
    }
    case 'FunctionNode':
      return called((node.fn as { name: string }).name, node.args!, of);
    default:
      return operated(node.fn as string, node.args!.map(of));
  }
}

function chosen(condition: string, yes: Part, no: Part): Part {
  return yes.isComplex || no.isComplex
    ? { text: `IF(${condition},${asComplex(yes)},${asComplex(no)})`, isComplex: true }
    : real(`IF(${condition},${yes.text},${no.text})`, yes.isPositive && no.isPositive);
}

function operated(operator: string, args: readonly Part[]): Part {
  const [p, q] = args;
  switch (operator) {
    case 'unaryPlus':
      return p;
    case 'unaryMinus':
      return p.isComplex ? { text: `IMPRODUCT(COMPLEX(-1,0),${p.text})`, isComplex: true } : real(`(-${p.text})`);
    case 'pow':
      return p.isComplex
        ? { text: `IMPOWER(${p.text},${q.text})`, isComplex: true }
        : real(`POWER(${p.text},${q.text})`, p.isPositive);
    default: {
      const { sign, complex } = operators[operator];
      return p.isComplex || q.isComplex
        ? { text: `${complex}(${asComplex(p)},${asComplex(q)})`, isComplex: true }
        : real(`(${p.text}${sign}${q.text})`, p.isPositive && q.isPositive && operator !== 'subtract');
    }
  }
}

function called(name: string, args: readonly MathNode[], of: (each: MathNode) => Part): Part {
  if (name === 'firstKnown') {
    for (const each of args) {
      try {
        return of(each);
      } catch (error) {
        if (!(error instanceof Unknown)) throw error;
      }
    }
    throw new Unknown(name);
  }
  const parts = args.map(of);
  const [first] = parts;
  switch (name) {
    case 'min':
    case 'max': {
      if (parts.every(({ isPositive }) => isPositive))
        return real(`${name.toUpperCase()}(${parts.map(({ text }) => text).join()})`, true);
      const sign = name === 'max' ? '>' : '<';
      return parts.reduce((p, q) => chosen(`${sizeOf(q)}${sign}${sizeOf(p)}`, q, p));
    }
    case 'abs':
      return real(sizeOf(first), true);
    case 'sqrt':
      return first.isComplex ? { text: `IMSQRT(${first.text})`, isComplex: true } : real(`SQRT(${first.text})`, true);
    default:
      return real(`ROUND(${first.isComplex ? `IMREAL(${first.text})` : first.text},0)`);
  }
}

const signs: Readonly<Record<string, string>> = {
  larger: '>',
  smaller: '<',
  largerEq: '>=',
  smallerEq: '<=',
  equal: '=',
  unequal: '<>',
};

function truthOf(tree: MathNode, known: (name: string) => Part): string {
  const node = tree as unknown as Node;
  if (node.type === 'ParenthesisNode') return truthOf(node.content!, known);
  const operator = node.fn as string;
  if (operator === 'not') return `NOT(${truthOf(node.args![0], known)})`;
  if (operator === 'and' || operator === 'or')
    return `${operator.toUpperCase()}(${node.args!.map((each) => truthOf(each, known)).join()})`;
  const [p, q] = node.args!.map((each) => sizeOf(partOf(each, known)));
  return `${p}${signs[operator]}${q}`;
}
