/** What a study asks of a factored matrix, whichever way it was factored, and the same after a small change. */
import type { Complex } from './complex';
import { addTo, denseMatrix, denseMultiply, denseSolve, entry, type DenseMatrix } from './dense';
import { inverseBetween, solveLdl, type LdlFactors } from './ldl';
import { solveInPlace, type Factors } from './lu';
import { once } from './once';
import { selectedInverse } from './selectedInverse';

/** A complex number for every node. */
export interface NodeValues {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

export const emptyValues = (count: number): NodeValues => ({
  re: new Float64Array(count),
  im: new Float64Array(count),
});

/** A⁻¹, by node. */
export interface Inverse {
  readonly n: number;
  readonly symmetric: boolean;
  /** Solves A·x = b; b is overwritten by x. */
  solve(b: NodeValues): void;
  /** The part of A⁻¹ between some nodes, in their order; a node may stand there twice. */
  between(nodes: readonly number[]): DenseMatrix;
  /** All diagonal entries; found once. */
  diagonal(): NodeValues;
  /** One of them. */
  at(node: number): Complex;
}

/** Single entries come from the whole diagonal too: the same question has the same answer to the last digit, asked alone or in a table. */
function diagonally(all: () => NodeValues): Pick<Inverse, 'diagonal' | 'at'> {
  const diagonal = once(all);
  return {
    diagonal,
    at(node) {
      const { re, im } = diagonal();
      return { re: re[node], im: im[node] };
    },
  };
}

export function ldlInverse(factors: LdlFactors): Inverse {
  const { symbolic } = factors;
  const { n, position } = symbolic;
  const work = new Float64Array(2 * n);
  const all = () => {
    const { diagonal } = selectedInverse(factors);
    const values = emptyValues(n);
    for (let k = 0; k < n; k++) {
      values.re[k] = diagonal[2 * position[k]];
      values.im[k] = diagonal[2 * position[k] + 1];
    }
    return values;
  };
  return {
    n,
    symmetric: true,
    solve({ re, im }) {
      for (let k = 0; k < n; k++) {
        const at = 2 * position[k];
        work[at] = re[k];
        work[at + 1] = im[k];
      }
      solveLdl(factors, work);
      for (let k = 0; k < n; k++) {
        const at = 2 * position[k];
        re[k] = work[at];
        im[k] = work[at + 1];
      }
    },
    between(nodes) {
      const m = denseMatrix(nodes.length);
      const pairs = inverseBetween(factors, nodes);
      for (let k = 0; k < m.re.length; k++) {
        m.re[k] = pairs[2 * k];
        m.im[k] = pairs[2 * k + 1];
      }
      return m;
    },
    ...diagonally(all),
  };
}

/** Of a matrix that had to be pivoted: no selected inverse here, every node takes a solution. */
export function pivotedInverse(factors: Factors): Inverse {
  const { n } = factors;
  const column = (node: number): NodeValues => {
    const values = emptyValues(n);
    values.re[node] = 1;
    solveInPlace(factors, values.re, values.im);
    return values;
  };
  const all = () => {
    const values = emptyValues(n);
    for (let k = 0; k < n; k++) {
      const { re, im } = column(k);
      values.re[k] = re[k];
      values.im[k] = im[k];
    }
    return values;
  };
  return {
    n,
    symmetric: false,
    solve: ({ re, im }) => solveInPlace(factors, re, im),
    between(nodes) {
      const m = denseMatrix(nodes.length);
      nodes.forEach((node, j) => {
        const { re, im } = column(node);
        nodes.forEach((other, i) => addTo(m, i, j, { re: re[other], im: im[other] }));
      });
      return m;
    },
    ...diagonally(all),
  };
}

/** K = (I + ΔA·Z(S, S))⁻¹·ΔA; null when a pivot falls below `tolerance` of the largest entry. */
export function woodburyKernel(change: DenseMatrix, zSS: DenseMatrix, tolerance: number): DenseMatrix | null {
  const system = denseMultiply(change, zSS);
  for (let k = 0; k < change.rows; k++) addTo(system, k, k, { re: 1, im: 0 });
  return denseSolve(system, change, tolerance);
}

/**
 * After A changed by a small dense matrix over some nodes S, by Woodbury's identity: A′⁻¹ = Z − Z(:, S)·K·Z(S, :) with
 * K = (I + ΔA·Z(S, S))⁻¹·ΔA. Null when the changed matrix is singular as far as digits tell.
 */
export function updatedInverse(base: Inverse, nodes: readonly number[], change: DenseMatrix): Inverse | null {
  const { n } = base;
  const m = nodes.length;
  const kernel = woodburyKernel(change, base.between(nodes), 1e-12);
  if (!kernel) return null;
  const columns = once(() =>
    nodes.map((node) => {
      const values = emptyValues(n);
      values.re[node] = 1;
      base.solve(values);
      return values;
    }),
  );
  const between = (wanted: readonly number[]): DenseMatrix => {
    const w = wanted.length;
    const all = base.between([...wanted, ...nodes]);
    const part = (i0: number, rows: number, j0: number, cols: number) => {
      const block = denseMatrix(rows, cols);
      for (let i = 0; i < rows; i++) for (let j = 0; j < cols; j++) addTo(block, i, j, entry(all, i0 + i, j0 + j));
      return block;
    };
    const less = denseMultiply(part(0, w, w, m), denseMultiply(kernel, part(w, m, 0, w)));
    const left = part(0, w, 0, w);
    for (let k = 0; k < left.re.length; k++) {
      left.re[k] -= less.re[k];
      left.im[k] -= less.im[k];
    }
    return left;
  };
  const all = () => {
    const whole = base.diagonal();
    const values = { re: whole.re.slice(), im: whole.im.slice() };
    if (!base.symmetric) {
      for (let k = 0; k < n; k++) ({ re: values.re[k], im: values.im[k] } = entry(between([k]), 0, 0));
      return values;
    }
    const z = columns();
    // What stands at (i, j) and at (j, i) meets the same product.
    for (let i = 0; i < m; i++)
      for (let j = 0; j <= i; j++) {
        const [here, there] = [i * m + j, j * m + i];
        const re = kernel.re[here] + (i === j ? 0 : kernel.re[there]);
        const im = kernel.im[here] + (i === j ? 0 : kernel.im[there]);
        if (re !== 0 || im !== 0) subtractProduct(values, z[i], z[j], re, im);
      }
    return values;
  };
  return {
    n,
    symmetric: base.symmetric && isSymmetric(change),
    solve(b) {
      base.solve(b);
      const here = nodes.map((node) => ({ re: b.re[node], im: b.im[node] }));
      columns().forEach((column, i) => {
        let [re, im] = [0, 0];
        here.forEach((value, j) => {
          const k = entry(kernel, i, j);
          re -= k.re * value.re - k.im * value.im;
          im -= k.re * value.im + k.im * value.re;
        });
        if (re !== 0 || im !== 0) addMultiple(b, column, re, im);
      });
    },
    between,
    ...diagonally(all),
  };
}

/** values += (re + j·im)·column. */
function addMultiple(values: NodeValues, column: NodeValues, re: number, im: number): void {
  const [valueRe, valueIm, columnRe, columnIm] = [values.re, values.im, column.re, column.im];
  for (let k = 0; k < valueRe.length; k++) {
    valueRe[k] += re * columnRe[k] - im * columnIm[k];
    valueIm[k] += re * columnIm[k] + im * columnRe[k];
  }
}

/** values −= (re + j·im)·p·q, node by node. */
function subtractProduct(values: NodeValues, p: NodeValues, q: NodeValues, re: number, im: number): void {
  const [valueRe, valueIm, pRe, pIm, qRe, qIm] = [values.re, values.im, p.re, p.im, q.re, q.im];
  for (let k = 0; k < valueRe.length; k++) {
    const productRe = pRe[k] * qRe[k] - pIm[k] * qIm[k];
    const productIm = pRe[k] * qIm[k] + pIm[k] * qRe[k];
    valueRe[k] -= re * productRe - im * productIm;
    valueIm[k] -= re * productIm + im * productRe;
  }
}

function isSymmetric({ rows, re, im }: DenseMatrix): boolean {
  for (let i = 0; i < rows; i++)
    for (let j = 0; j < i; j++)
      if (re[i * rows + j] !== re[j * rows + i] || im[i * rows + j] !== im[j * rows + i]) return false;
  return true;
}

/** With `added` nodes put in before node `at`, each with this impedance in ohms to the reference and joined to nothing. */
export function extendedInverse(base: Inverse, at: number, added: number, impedance: number): Inverse {
  const n = base.n + added;
  const isOld = (node: number) => node < at || node >= at + added;
  const old = (node: number) => (node < at ? node : node - added);
  const inner = emptyValues(base.n);
  return {
    n,
    symmetric: base.symmetric,
    solve(b) {
      for (const [from, to] of [
        [b.re, inner.re],
        [b.im, inner.im],
      ]) {
        to.set(from.subarray(0, at));
        to.set(from.subarray(at + added), at);
      }
      base.solve(inner);
      for (const [from, to] of [
        [inner.re, b.re],
        [inner.im, b.im],
      ]) {
        to.set(from.subarray(0, at));
        for (let k = at; k < at + added; k++) to[k] *= impedance;
        to.set(from.subarray(at), at + added);
      }
    },
    between(nodes) {
      const known = nodes.filter(isOld);
      const block = base.between(known.map(old));
      const all = denseMatrix(nodes.length);
      const place = new Map(known.map((node, k) => [node, k]));
      nodes.forEach((p, i) =>
        nodes.forEach((q, j) => {
          if (isOld(p) && isOld(q)) addTo(all, i, j, entry(block, place.get(p)!, place.get(q)!));
          else if (p === q) addTo(all, i, j, { re: impedance, im: 0 });
        }),
      );
      return all;
    },
    ...diagonally(() => {
      const { re, im } = base.diagonal();
      const values = emptyValues(n);
      for (let k = 0; k < n; k++) {
        values.re[k] = isOld(k) ? re[old(k)] : impedance;
        values.im[k] = isOld(k) ? im[old(k)] : 0;
      }
      return values;
    }),
  };
}

/** The same with exact noughts between nodes of different parts, where an update leaves rounding errors. */
export function withinParts(inverse: Inverse, part: Int32Array): Inverse {
  return {
    ...inverse,
    solve(b) {
      const excited = new Uint8Array(inverse.n);
      for (let k = 0; k < inverse.n; k++) if (b.re[k] !== 0 || b.im[k] !== 0) excited[part[k]] = 1;
      inverse.solve(b);
      for (let k = 0; k < inverse.n; k++) if (!excited[part[k]]) b.re[k] = b.im[k] = 0;
    },
    between(nodes) {
      const block = inverse.between(nodes);
      nodes.forEach((p, i) =>
        nodes.forEach((q, j) => {
          if (part[p] === part[q]) return;
          block.re[i * nodes.length + j] = block.im[i * nodes.length + j] = 0;
        }),
      );
      return block;
    },
  };
}
