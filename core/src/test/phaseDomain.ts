/**
 * A second method, for tests only: the network in phases a, b, c as windings, impedances and sources, solved as one dense system (modified nodal analysis). It shares
 * the model's data and the merging of switches with the program, and none of its sequence, assembly or fault code: vector groups
 * come about by how windings are wired, faults by what is connected.
 */
import { neutralOf } from '../model/fields';
import { add, divide, multiply, polar, scale, subtract, zero, type Complex } from '../linear/complex';
import { addTo, denseMatrix, denseSolve } from '../linear/dense';
import type { Line, LineCoupling } from '../model/branches';
import type { Element } from '../model/element';
import type { ElementId, Neutral } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import { buildTopology, terminalKey, type Topology } from '../model/topology';

/** A scalar node; ground is −1. */
type NodeIndex = number;
const ground: NodeIndex = -1;
type Three = readonly [NodeIndex, NodeIndex, NodeIndex];

/** Balanced source voltages behind the machines and feeders, phase L1, volts phase to neutral. */
export type Sources = (element: ElementId) => Complex;

export type PhaseFault =
  | {
      type: 'shunt';
      at: { element: ElementId; terminal: number } | { line: ElementId; fraction: number };
      phases: readonly number[];
      earth: boolean;
      phaseOhm: Complex;
      earthOhm: Complex;
    }
  | { type: 'open'; element: ElementId; terminal: number; phases: readonly number[] };

export interface PhaseSolution {
  /** Voltages to earth L1, L2, L3 at a terminal of an element's node. */
  voltagesAt(element: ElementId, terminal: number): Complex[];
  /** Currents from the node into an element at a terminal. */
  currentsInto(element: ElementId, terminal: number): Complex[];
  /** Currents into each shunt fault, through each break. */
  faultCurrents: Complex[][];
}

const a = polar(1, (2 * Math.PI) / 3);
const rotations = [{ re: 1, im: 0 }, multiply(a, a), a];
const minus = (z: Complex) => scale(z, -1);
const inverse = (z: Complex) => divide({ re: 1, im: 0 }, z);

class Circuit {
  nodes = 0;
  private readonly equations: { terms: [number, Complex][]; right: Complex }[] = [];
  private readonly injections: { node: NodeIndex; unknown: number; factor: Complex }[] = [];
  private readonly admittances: { row: NodeIndex; column: NodeIndex; y: Complex }[] = [];
  private readonly driven: { node: NodeIndex; current: Complex }[] = [];
  private unknowns = 0;

  node(): NodeIndex {
    return this.nodes++;
  }
  three(): Three {
    return [this.node(), this.node(), this.node()];
  }
  /** A current that is an unknown of its own; numbered apart from the nodes. */
  unknown(): number {
    return this.unknowns++;
  }
  /** An unknown current flows out of a node (into what is being described). */
  draw(node: NodeIndex, unknown: number, factor: Complex = { re: 1, im: 0 }): void {
    this.injections.push({ node, unknown, factor });
  }
  drive(node: NodeIndex, current: Complex): void {
    this.driven.push({ node, current });
  }
  /** Σ voltage·factor + Σ unknown·factor = right. */
  equation(voltages: [NodeIndex, Complex][], currents: [number, Complex][], right: Complex = zero): void {
    const terms: [number, Complex][] = [
      ...voltages.filter(([node]) => node !== ground),
      ...currents.map(([unknown, factor]): [number, Complex] => [-1 - unknown, factor]),
    ];
    this.equations.push({ terms, right });
  }
  /** Impedance between two nodes; returns the current from the first to the second. */
  branch(p: NodeIndex, q: NodeIndex, z: Complex, emf: Complex = zero): number {
    const i = this.unknown();
    this.draw(p, i);
    this.draw(q, i, { re: -1, im: 0 });
    this.equation(
      [
        [p, { re: 1, im: 0 }],
        [q, { re: -1, im: 0 }],
      ],
      [[i, minus(z)]],
      emf,
    );
    return i;
  }
  /** Branches tied by an impedance matrix; emf is the voltage that stands against the current. */
  coupled(from: readonly NodeIndex[], to: readonly NodeIndex[], z: Complex[][], emf?: readonly Complex[]): number[] {
    const currents = from.map(() => this.unknown());
    from.forEach((p, k) => {
      this.draw(p, currents[k]);
      this.draw(to[k], currents[k], { re: -1, im: 0 });
      this.equation(
        [
          [p, { re: 1, im: 0 }],
          [to[k], { re: -1, im: 0 }],
        ],
        currents.map((i, l): [number, Complex] => [i, minus(z[k][l])]),
        emf?.[k] ?? zero,
      );
    });
    return currents;
  }
  /** Windings on one ideal core leg: equal volts per turn, turns·currents add up to nought. Returns the currents in at the first ends. */
  leg(windings: { from: NodeIndex; to: NodeIndex; turns: number }[]): number[] {
    const currents = windings.map(() => this.unknown());
    windings.forEach(({ from, to }, k) => {
      this.draw(from, currents[k]);
      this.draw(to, currents[k], { re: -1, im: 0 });
    });
    for (let k = 1; k < windings.length; k++) {
      const [p, q] = [windings[0], windings[k]];
      this.equation(
        [
          [p.from, { re: q.turns, im: 0 }],
          [p.to, { re: -q.turns, im: 0 }],
          [q.from, { re: -p.turns, im: 0 }],
          [q.to, { re: p.turns, im: 0 }],
        ],
        [],
      );
    }
    this.equation(
      [],
      windings.map(({ turns }, k): [number, Complex] => [currents[k], { re: turns, im: 0 }]),
    );
    return currents;
  }
  admittance(row: NodeIndex, column: NodeIndex, y: Complex): void {
    if (row !== ground && column !== ground) this.admittances.push({ row, column, y });
  }

  /** Node voltages and unknown currents. */
  solve(): { voltage(node: NodeIndex): Complex; current(unknown: number): Complex } {
    const n = this.nodes + this.unknowns;
    const system = denseMatrix(n);
    const right = denseMatrix(n, 1);
    const place = (k: number) => (k >= 0 ? k : this.nodes + (-1 - k));
    for (const { node, unknown, factor } of this.injections)
      if (node !== ground) addTo(system, node, this.nodes + unknown, factor);
    for (const { row, column, y } of this.admittances) addTo(system, row, column, y);
    for (const { node, current } of this.driven) if (node !== ground) addTo(right, node, 0, current);
    this.equations.forEach(({ terms, right: value }, k) => {
      for (const [column, factor] of terms) addTo(system, this.nodes + k, place(column), factor);
      addTo(right, this.nodes + k, 0, value);
    });
    const x = denseSolve(system, right, 1e-40);
    if (!x) throw new Error('the phase-domain system is singular');
    const at = (k: number): Complex => ({ re: x.re[k], im: x.im[k] });
    return {
      voltage: (node) => (node === ground ? zero : at(node)),
      current: (unknown) => at(this.nodes + unknown),
    };
  }
}

/** Matrix with the given positive (and negative) and zero-sequence impedance: equal selves, equal mutuals. */
function balanced(z1: Complex, z0: Complex): Complex[][] {
  const self = scale(add(z0, scale(z1, 2)), 1 / 3);
  const mutual = scale(subtract(z0, z1), 1 / 3);
  return [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? self : mutual)));
}

/** Cyclic matrix of a rotating machine with Z1, Z2, Z0. */
function cyclic(z1: Complex, z2: Complex, z0: Complex): Complex[][] {
  const power = (k: number) => rotations[((k % 3) + 3) % 3];
  return [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => scale(add(z0, add(multiply(z1, power(i - j)), multiply(z2, power(j - i)))), 1 / 3)),
  );
}

export function solvePhases(
  network: Network,
  sources: Sources,
  loads: ReadonlyMap<ElementId, Complex>,
  faults: readonly PhaseFault[],
): PhaseSolution {
  return new PhaseNetwork(network, sources, loads, faults).solve();
}

class PhaseNetwork {
  private readonly circuit = new Circuit();
  private readonly topology: Topology;
  private readonly phases: Three[];
  /** Current unknowns into an element's terminal, phase by phase, with signs. */
  private readonly into = new Map<string, { unknown: number; sign: number }[][]>();
  private readonly pointInLine = new Map<number, Three>();
  private readonly breakCurrents = new Map<number, number[]>();

  constructor(
    private readonly network: Network,
    private readonly sources: Sources,
    private readonly loads: ReadonlyMap<ElementId, Complex>,
    private readonly faults: readonly PhaseFault[],
  ) {
    this.topology = buildTopology(network);
    this.phases = this.topology.nodes.map(() => this.circuit.three());
  }

  solve(): PhaseSolution {
    for (const element of this.network.elements.values()) this.element(element);
    this.lines();
    const faultUnknowns = this.faults.map((fault, k) => this.fault(fault, k));
    const { voltage, current } = this.circuit.solve();
    const nodeOf = (element: ElementId, terminal: number) => this.topology.nodeAt(element, terminal)!;
    return {
      voltagesAt: (element, terminal) => this.phases[nodeOf(element, terminal)].map(voltage),
      currentsInto: (element, terminal) => {
        const list = this.into.get(terminalKey(element, terminal));
        return [0, 1, 2].map((phase) =>
          (list?.[phase] ?? []).reduce((sum, { unknown, sign }) => add(sum, scale(current(unknown), sign)), zero),
        );
      },
      faultCurrents: faultUnknowns.map((unknowns) => unknowns.map((u) => (u === null ? zero : current(u)))),
    };
  }

  /** The phases an element's terminal is wired to: behind the break when there is one. */
  private terminal(element: ElementId, index: number): Three {
    const outer = this.phases[this.topology.nodeAt(element, index)!];
    const k = this.faults.findIndex((f) => f.type === 'open' && f.element === element && f.terminal === index);
    if (k < 0) return outer;
    const fault = this.faults[k] as Extract<PhaseFault, { type: 'open' }>;
    const inner = this.circuit.three();
    const currents = [0, 1, 2].map((phase) => {
      if (fault.phases.includes(phase)) return -1;
      return this.circuit.branch(outer[phase], inner[phase], zero);
    });
    this.breakCurrents.set(k, currents);
    return inner;
  }

  private note(element: ElementId, terminal: number, phase: number, unknown: number, sign: number): void {
    const key = terminalKey(element, terminal);
    if (!this.into.has(key)) this.into.set(key, [[], [], []]);
    this.into.get(key)![phase].push({ unknown, sign });
  }

  private neutralTo(neutral: Neutral): NodeIndex {
    if (neutral.earthing === 'solid') return ground;
    const star = this.circuit.node();
    if (neutral.earthing === 'isolated') return star;
    const x = neutral.earthing === 'resistor' ? 0 : neutral.xOhm;
    this.circuit.branch(star, ground, { re: neutral.rOhm, im: x });
    return star;
  }

  /** A star of impedances with sources, from the terminal to a star point. */
  private star(element: ElementId, terminal: number, z: Complex[][], star: NodeIndex, emf: Complex = zero): void {
    const at = this.terminal(element, terminal);
    const currents = this.circuit.coupled(
      at,
      [star, star, star],
      z,
      rotations.map((r) => multiply(r, emf)),
    );
    currents.forEach((unknown, phase) => this.note(element, terminal, phase, unknown, 1));
  }

  private isolatedStar(): NodeIndex {
    return this.neutralTo(neutralOf('isolated'));
  }

  private element(element: Element): void {
    const load = this.loads.get(element.id);
    if (load) return this.star(element.id, 0, balanced(load, load), this.isolatedStar());
    switch (element.kind) {
      case 'networkFeeder': {
        const level = element.max;
        const kv = this.topology.nodes[this.topology.nodeAt(element.id, 0)!].nominalKv!;
        const c = 1.1;
        const size = level.given === 'current' ? (c * kv) / (Math.sqrt(3) * level.ikKa!) : (c * kv * kv) / level.skMva!;
        const x = size / Math.hypot(1, level.rOverX);
        const z1 = { re: level.rOverX * x, im: x };
        if (!element.earthed)
          return this.star(element.id, 0, balanced(z1, z1), this.isolatedStar(), this.sources(element.id));
        const x0 = level.x0OverX1! * x;
        const z0 = { re: level.r0OverX0! * x0, im: x0 };
        return this.star(element.id, 0, balanced(z1, z0), ground, this.sources(element.id));
      }
      case 'synchronousMachine': {
        const base = element.ratedKv ** 2 / element.ratedMva / 100;
        const share = element.ratedKv <= 1 ? 0.15 : element.ratedMva >= 100 ? 0.05 : 0.07;
        const r = element.rOhm ?? share * element.xd2Percent * base;
        const z = (percent: number) => ({ re: r, im: percent * base });
        const z1 = z(element.xd2Percent);
        const matrix = cyclic(z1, z(element.x2Percent ?? element.xd2Percent), z(element.x0Percent ?? 10));
        return this.star(element.id, 0, matrix, this.neutralTo(element.neutral), this.sources(element.id));
      }
      case 'asynchronousMotor': {
        const mva = element.ratedMw / ((element.powerFactor * element.efficiencyPercent) / 100);
        const size = element.ratedKv ** 2 / mva / element.startingRatio / element.count;
        const rx =
          element.rOverX ?? (element.ratedKv <= 1 ? 0.42 : element.ratedMw / element.polePairs >= 1 ? 0.1 : 0.15);
        const x = size / Math.hypot(1, rx);
        const z = { re: rx * x, im: x };
        return this.star(element.id, 0, balanced(z, z), this.isolatedStar(), this.sources(element.id));
      }
      case 'doublyFedMachine': {
        const size = (Math.SQRT2 * element.kappa * element.ratedKv) / (Math.sqrt(3) * element.peakKa);
        const x = size / Math.hypot(1, element.rOverX);
        const z = { re: element.rOverX * x, im: x };
        return this.star(element.id, 0, balanced(z, z), this.isolatedStar(), this.sources(element.id));
      }
      case 'shunt': {
        const x = ((element.type === 'capacitor' ? -1 : 1) * element.ratedKv ** 2) / element.ratedMvar;
        const z = { re: 0, im: x };
        return this.star(element.id, 0, balanced(z, z), this.neutralTo(element.neutral));
      }
      case 'converterSource': {
        const at = this.terminal(element.id, 0);
        const current = this.sources(element.id);
        at.forEach((node, phase) => this.circuit.drive(node, multiply(rotations[phase], current)));
        return;
      }
      case 'earthingSwitch': {
        if (!element.closed) return;
        const at = this.terminal(element.id, 0);
        at.forEach((node, phase) => {
          this.note(element.id, 0, phase, this.circuit.branch(node, ground, zero), 1);
        });
        return;
      }
      case 'earthingTransformer':
        return this.zigzag(element.id, { re: element.r0Ohm, im: element.x0Ohm }, element.neutral);
      case 'seriesReactor': {
        const size = ((element.ukPercent / 100) * element.ratedKv * 1000) / (Math.sqrt(3) * element.ratedA);
        const x = size / Math.hypot(1, element.rOverX);
        const r = element.rOverX * x;
        const z = balanced({ re: r, im: x }, { re: r, im: element.x0OverX1 * x });
        return this.through(element.id, this.terminal(element.id, 0), this.terminal(element.id, 1), z);
      }
      case 'transformer':
        return this.twoWindings(element);
      case 'threeWindingTransformer':
        return this.threeWindings(element);
      case 'powerStationUnit':
        return this.unit(element);
      default:
        return;
    }
  }

  private through(element: ElementId, from: Three, to: Three, z: Complex[][]): void {
    this.circuit.coupled(from, to, z).forEach((unknown, phase) => {
      this.note(element, 0, phase, unknown, 1);
      this.note(element, 1, phase, unknown, -1);
    });
  }

  /** Two half windings on each of three legs, the second of each phase reversed on the next leg; leakage in the leads. */
  private zigzag(element: ElementId, z0: Complex, neutral: Neutral): void {
    const at = this.terminal(element, 0);
    const star = this.neutralTo(neutral);
    const behind = this.circuit.three();
    const middle = this.circuit.three();
    // What the three legs have in common is nobody's voltage.
    for (const node of middle) this.circuit.admittance(node, node, { re: 1e-15, im: 0 });
    const currents = this.circuit.coupled(at, behind, balanced(z0, z0));
    currents.forEach((unknown, phase) => this.note(element, 0, phase, unknown, 1));
    for (let leg = 0; leg < 3; leg++) {
      // First half of phase `leg`, and the second half of the phase before, reversed, on the same leg.
      const other = (leg + 2) % 3;
      this.circuit.leg([
        { from: behind[leg], to: middle[leg], turns: 1 },
        { from: star, to: middle[other], turns: 1 },
      ]);
    }
  }

  /**
   * A winding on three legs wired to a terminal: returns for each leg its two ends and turns. `clock`: lag of the terminal's star voltages behind the legs'
   * reference (a star winding on the HV side stands for 0).
   */
  private winding(
    type: string,
    kv: number,
    at: Three,
    star: NodeIndex,
    clock: number,
    legAngle: number,
  ): { leg: number; from: NodeIndex; to: NodeIndex; turns: number }[] {
    for (let shift = 0; shift < 3; shift++)
      for (const sign of [1, -1]) {
        const legVoltage = legAngle - 120 * shift + (sign < 0 ? 180 : 0);
        const angle = type === 'D' ? legVoltage - 30 : legVoltage;
        if ((((angle + 30 * clock) % 360) + 360) % 360 > 1e-6) continue;
        return [0, 1, 2].map((k) => {
          const leg = (k + shift) % 3;
          const [from, to] = type === 'D' ? [at[k], at[(k + 1) % 3]] : [at[k], star];
          const turns = type === 'D' ? kv : kv / Math.sqrt(3);
          return sign > 0 ? { leg, from, to, turns } : { leg, from: to, to: from, turns };
        });
      }
    throw new Error(`no wiring gives clock ${clock}`);
  }

  /** Each winding drives, through its ideal leg, a circuit of its own at one volt per volt of winding `reference`; returns the inner ends. */
  private onLegs(
    windings: { leg: number; from: NodeIndex; to: NodeIndex; turns: number }[],
    turns: number,
    note: (phase: number, unknown: number, fromEnd: boolean, winding: number) => void,
  ): Three {
    const inner = this.circuit.three();
    windings.forEach((winding, k) => {
      const [current] = this.circuit.leg([
        { from: winding.from, to: winding.to, turns: winding.turns },
        { from: inner[winding.leg], to: ground, turns },
      ]);
      note(k, current, true, k);
    });
    return inner;
  }

  /** Notes the terminal currents of a winding: star windings one lead a phase, delta windings two. */
  private noteWinding(
    element: ElementId,
    terminal: number,
    at: Three,
    windings: readonly { from: NodeIndex; to: NodeIndex }[],
  ) {
    return (_: number, unknown: number, __: boolean, k: number) => {
      const { from, to } = windings[k];
      at.forEach((node, phase) => {
        if (node === from) this.note(element, terminal, phase, unknown, 1);
        if (node === to) this.note(element, terminal, phase, unknown, -1);
      });
    };
  }

  private wind(
    element: ElementId,
    terminal: number,
    type: string,
    kv: number,
    clock: number,
    legAngle: number,
    star: NodeIndex,
    turns: number,
  ): Three {
    const at = this.terminal(element, terminal);
    const windings = this.winding(type, kv, at, star, clock, legAngle);
    return this.onLegs(windings, turns, this.noteWinding(element, terminal, at, windings));
  }

  private twoWindings(unit: Extract<Element, { kind: 'transformer' }>): void {
    const match = /^(D|YN|Y)(d|yn|y|zn|z|a)(\d+)$/.exec(unit.vectorGroup)!;
    const [hv, lv, clock] = [match[1], match[2].toUpperCase(), Number(match[3])];
    const base = unit.lvKv ** 2 / unit.ratedMva / 100;
    const [r, x] = [unit.uRPercent * base, Math.sqrt(unit.ukPercent ** 2 - unit.uRPercent ** 2) * base];
    const tap = unit.tap.side === 'none' ? 1 : 1 + (unit.tap.position * unit.tap.stepPercent) / 100;
    const hvKv = unit.hvKv * (unit.tap.side === 'hv' ? tap : 1);
    const lvKv = unit.lvKv * (unit.tap.side === 'lv' ? tap : 1);
    const onTap = (lvKv / unit.lvKv) ** 2;
    const z1 = { re: r * onTap, im: x * onTap };
    const z0 = { re: (unit.r0OverR1 ?? 1) * z1.re, im: (unit.x0OverX1 ?? 1) * z1.im };
    const legAngle = hv === 'D' ? 30 : 0;
    const neutral = (type: string, data: Neutral) =>
      type === 'D' ? ground : type.endsWith('N') || type === 'A' ? this.neutralTo(data) : this.isolatedStar();
    const hvStar = neutral(hv, unit.hvNeutral);
    const lvStar = lv === 'A' ? hvStar : neutral(lv, unit.lvNeutral);
    // The circuit on the legs stands at phase-to-neutral volts of the LV side: ohms are those of the star.
    const turns = lvKv / Math.sqrt(3);
    const inner = this.wind(unit.id, 0, hv.replace('N', ''), hvKv, 0, legAngle, hvStar, turns);
    if (lv.startsWith('Z')) {
      const at = this.terminal(unit.id, 1);
      const behind = this.circuit.three();
      this.circuit
        .coupled(behind, at, balanced(z1, z0))
        .forEach((unknown, phase) => this.note(unit.id, 1, phase, unknown, -1));
      this.zigzagSecondary(inner, behind, lvStar, lvKv, turns, clock, legAngle);
      // A zigzag winding does not hold what the legs have in common, nor does an isolated star.
      if (hv === 'Y' || (hv === 'YN' && unit.hvNeutral.earthing === 'isolated'))
        this.zeroShunt(inner, { re: 1, im: 0 });
      return;
    }
    const lvType = lv === 'A' ? 'Y' : lv.replace('N', '');
    const far = this.wind(unit.id, 1, lvType, lvKv, clock, legAngle, lvStar, turns);
    const core = unit.x0mPercent ?? (unit.core === 'threeLimb' ? 60 : null);
    const bothStars = hv !== 'D' && lv !== 'D' && lv !== 'A';
    const hvEarthed = hv === 'YN' && unit.hvNeutral.earthing !== 'isolated';
    const lvEarthed = lv === 'YN' && unit.lvNeutral.earthing !== 'isolated';
    const x0m = core === null ? null : { re: 0, im: ((core / 100) * unit.lvKv ** 2) / unit.ratedMva };
    if (!bothStars || x0m === null || hvEarthed !== lvEarthed) {
      this.circuit.coupled(inner, far, balanced(z1, z0));
      // Where one side only can carry zero sequence the program takes the magnetising reactance, or a measured Z0, alone.
      const alone = x0m ?? (unit.core === 'unspecified' ? z0 : null);
      if (bothStars && hvEarthed !== lvEarthed && alone) this.zeroShunt(lvEarthed ? far : inner, alone);
      // With both star points isolated no current flows here, and what the legs have in common is nobody's voltage.
      if (bothStars && !hvEarthed && !lvEarthed) this.zeroShunt(inner, { re: 1, im: 0 });
      return;
    }
    const middle = this.circuit.three();
    this.circuit.coupled(inner, middle, balanced(scale(z1, 0.5), scale(z0, 0.5)));
    this.circuit.coupled(middle, far, balanced(scale(z1, 0.5), scale(z0, 0.5)));
    this.zeroShunt(middle, x0m);
  }

  /** An admittance that only the zero sequence of three nodes sees. */
  private zeroShunt(nodes: Three, z0: Complex): void {
    const third = scale(inverse(z0), 1 / 3);
    for (const p of nodes) for (const q of nodes) this.circuit.admittance(p, q, third);
  }

  /** A zigzag winding fed from the legs' circuit: each phase is the difference of two legs. */
  private zigzagSecondary(
    inner: Three,
    at: Three,
    star: NodeIndex,
    kv: number,
    turns: number,
    clock: number,
    legAngle: number,
  ): void {
    for (let shift = 0; shift < 3; shift++)
      for (const sign of [1, -1]) {
        const angle = legAngle - 120 * shift + 30 + (sign < 0 ? 180 : 0);
        if ((((angle + 30 * clock) % 360) + 360) % 360 > 1e-6) continue;
        const half = kv / 3;
        const middle = this.circuit.three();
        // Phase k: + leg k+shift (outer half), − leg k+1+shift (half next to the star point).
        for (let leg = 0; leg < 3; leg++) {
          const outer = (leg - shift + 3) % 3;
          const next = (leg - shift - 1 + 6) % 3;
          const windings = [
            { from: inner[leg], to: ground, turns },
            sign > 0
              ? { from: at[outer], to: middle[outer], turns: half }
              : { from: middle[outer], to: at[outer], turns: half },
            sign > 0 ? { from: star, to: middle[next], turns: half } : { from: middle[next], to: star, turns: half },
          ];
          this.circuit.leg(windings);
        }
        return;
      }
    throw new Error(`no zigzag gives clock ${clock}`);
  }

  private threeWindings(unit: Extract<Element, { kind: 'threeWindingTransformer' }>): void {
    const match = /^(D|YN|Y)(d|yn|y|a)(\d+)(d|yn|y)(\d+)$/.exec(unit.vectorGroup)!;
    const types = [match[1], match[2].toUpperCase(), match[4].toUpperCase()];
    const clocks = [0, Number(match[3]), Number(match[5])];
    const tap = unit.tap.side === 'none' ? 1 : 1 + (unit.tap.position * unit.tap.stepPercent) / 100;
    const kv = [
      unit.hvKv * (unit.tap.side === 'hv' ? tap : 1),
      unit.mvKv,
      unit.lvKv * (unit.tap.side === 'lv' ? tap : 1),
    ];
    const pair = ({ ratedMva, ukPercent, uRPercent, x0OverX1, r0OverR1 }: typeof unit.hvMv) => {
      const base = unit.mvKv ** 2 / ratedMva / 100;
      const z1 = { re: uRPercent * base, im: Math.sqrt(ukPercent ** 2 - uRPercent ** 2) * base };
      return { z1, z0: { re: (r0OverR1 ?? 1) * z1.re, im: (x0OverX1 ?? 1) * z1.im } };
    };
    const [hm, hl, ml] = [pair(unit.hvMv), pair(unit.hvLv), pair(unit.mvLv)];
    const leg = (p: Complex, q: Complex, o: Complex) => scale(subtract(add(p, q), o), 0.5);
    const legs = [
      { z1: leg(hm.z1, hl.z1, ml.z1), z0: leg(hm.z0, hl.z0, ml.z0) },
      { z1: leg(hm.z1, ml.z1, hl.z1), z0: leg(hm.z0, ml.z0, hl.z0) },
      { z1: leg(hl.z1, ml.z1, hm.z1), z0: leg(hl.z0, ml.z0, hm.z0) },
    ];
    const starOf = (type: string, data: Neutral) =>
      type === 'D' ? ground : type === 'YN' ? this.neutralTo(data) : this.isolatedStar();
    const hvStar = starOf(types[0], unit.hvNeutral);
    const stars = [
      hvStar,
      types[1] === 'A' ? hvStar : starOf(types[1], unit.mvNeutral),
      starOf(types[2], unit.lvNeutral),
    ];
    const legAngle = types[0] === 'D' ? 30 : 0;
    const center = this.circuit.three();
    types.forEach((type, k) => {
      const plain = type === 'A' ? 'Y' : type.replace('N', '');
      const inner = this.wind(unit.id, k, plain, kv[k], clocks[k], legAngle, stars[k], unit.mvKv / Math.sqrt(3));
      this.circuit.coupled(inner, center, balanced(legs[k].z1, legs[k].z0));
    });
    if (!types.includes('D')) {
      const core = unit.x0mPercent ?? (unit.core === 'threeLimb' ? 60 : null);
      if (core !== null) this.zeroShunt(center, { re: 0, im: ((core / 100) * unit.mvKv ** 2) / unit.hvMv.ratedMva });
    }
  }

  private unit(unit: Extract<Element, { kind: 'powerStationUnit' }>): void {
    const { generator: g, transformer: t } = unit;
    const match = /^(YN|Y)(d)(\d+)$/.exec(t.vectorGroup)!;
    const base = g.ratedKv ** 2 / g.ratedMva / 100;
    const share = g.ratedKv <= 1 ? 0.15 : g.ratedMva >= 100 ? 0.05 : 0.07;
    const r = g.rOhm ?? share * g.xd2Percent * base;
    const matrix = cyclic(
      { re: r, im: g.xd2Percent * base },
      { re: r, im: (g.x2Percent ?? g.xd2Percent) * base },
      { re: r, im: 10 * base },
    );
    this.star(unit.id, 1, matrix, this.isolatedStar(), this.sources(unit.id));
    const zBase = t.lvKv ** 2 / t.ratedMva / 100;
    const z1 = { re: t.uRPercent * zBase, im: Math.sqrt(t.ukPercent ** 2 - t.uRPercent ** 2) * zBase };
    const z0 = { re: (t.r0OverR1 ?? 1) * z1.re, im: (t.x0OverX1 ?? 1) * z1.im };
    const star = match[1] === 'YN' ? this.neutralTo(unit.hvNeutral) : this.isolatedStar();
    const turns = t.lvKv / Math.sqrt(3);
    const inner = this.wind(unit.id, 0, 'Y', t.hvKv, 0, 0, star, turns);
    const far = this.wind(unit.id, 1, 'D', t.lvKv, Number(match[3]), 0, ground, turns);
    this.circuit.coupled(inner, far, balanced(z1, z0));
  }

  /** All circuits of all lines as chains of sections, cut where couplings begin and end and where faults are (on the first circuit); sections side by side are tied. */
  private lines(): void {
    const lines = ofKind(this.network, 'line');
    const couplings = ofKind(this.network, 'lineCoupling');
    const cuts = new Map<ElementId, number[]>(lines.map((line) => [line.id, [0, line.lengthKm]]));
    const cut = (id: ElementId, km: number) => {
      const list = cuts.get(id)!;
      if (!list.some((at) => Math.abs(at - km) < 1e-9)) list.push(km);
    };
    for (const fault of this.faults)
      if (fault.type === 'shunt' && 'line' in fault.at)
        cut(
          fault.at.line,
          fault.at.fraction * lines.find((l) => l.id === (fault.at as { line: ElementId }).line)!.lengthKm,
        );
    for (let round = 0; round < 4; round++)
      for (const coupling of couplings) {
        const map = mapping(coupling, lines);
        for (const [id, from, to, other] of [
          [coupling.first, map.first[0], map.first[1], 1],
          [coupling.second, map.second[0], map.second[1], 0],
        ] as const) {
          const [low, high] = [Math.min(from, to), Math.max(from, to)];
          cut(id, from);
          cut(id, to);
          for (const km of [...cuts.get(id)!])
            if (km > low && km < high) {
              const u = (km - from) / (to - from);
              const [f, t] = other ? map.second : map.first;
              cut(other ? coupling.second : coupling.first, f + u * (t - f));
            }
        }
      }
    interface Section {
      line: Line;
      from: number;
      to: number;
      start: Three;
      end: Three;
      z: Complex[][];
    }
    const sections: Section[] = [];
    for (const line of lines) {
      const at = cuts.get(line.id)!.sort((p, q) => p - q);
      const terminals = [0, 1].map((k) => this.terminal(line.id, k));
      const circuits = Array.from({ length: line.circuits }, () =>
        at.map((_, k) => (k === 0 ? terminals[0] : k === at.length - 1 ? terminals[1] : this.circuit.three())),
      );
      for (const points of circuits)
        for (let k = 0; k + 1 < at.length; k++) {
          const km = at[k + 1] - at[k];
          const z = balanced(
            { re: line.r1OhmPerKm * km, im: line.x1OhmPerKm * km },
            { re: line.r0OhmPerKm! * km, im: line.x0OhmPerKm! * km },
          );
          sections.push({ line, from: at[k], to: at[k + 1], start: points[k], end: points[k + 1], z });
        }
      const ends = circuits[0];
      this.faults.forEach((fault, k) => {
        if (fault.type !== 'shunt' || !('line' in fault.at) || fault.at.line !== line.id) return;
        const km = fault.at.fraction * line.lengthKm;
        this.pointInLine.set(k, ends[at.findIndex((each) => Math.abs(each - km) < 1e-9)]);
      });
      for (const [end, three] of [
        [0, ends[0]],
        [1, ends[ends.length - 1]],
      ] as const) {
        const half = (us: number) => ({ re: 0, im: (us * line.lengthKm * line.circuits * 1e-6) / 2 });
        const [y1, y0] = [half(line.b1UsPerKm), half(line.b0UsPerKm)];
        if (y1.im === 0 && y0.im === 0) continue;
        this.shuntMatrix(line.id, end, three, balanced(y1, y0));
      }
    }
    // All sections as one block of coupled branches: dense anyway.
    const from = sections.flatMap((section) => [...section.start]);
    const to = sections.flatMap((section) => [...section.end]);
    const z: Complex[][] = from.map(() => to.map(() => zero));
    sections.forEach((section, s) =>
      section.z.forEach((row, i) => row.forEach((value, j) => (z[3 * s + i][3 * s + j] = value))),
    );
    for (const coupling of couplings) {
      const map = mapping(coupling, lines);
      const perKm = { re: coupling.r0mOhmPerKm!, im: coupling.x0mOhmPerKm! };
      sections.forEach((p, s) => {
        if (p.line.id !== coupling.first) return;
        const [u0, u1] = [p.from, p.to].map((km) => (km - map.first[0]) / (map.first[1] - map.first[0]));
        if (u0 < -1e-9 || u1 > 1 + 1e-9) return;
        sections.forEach((q, t) => {
          if (q.line.id !== coupling.second) return;
          const [v0, v1] = [q.from, q.to].map((km) => (km - map.second[0]) / (map.second[1] - map.second[0]));
          if (Math.abs(Math.min(v0, v1) - u0) > 1e-9 || Math.abs(Math.max(v0, v1) - u1) > 1e-9) return;
          const sign = v1 > v0 ? 1 : -1;
          const value = scale(perKm, (sign * (p.to - p.from)) / 3);
          for (let i = 0; i < 3; i++)
            for (let j = 0; j < 3; j++) {
              z[3 * s + i][3 * t + j] = add(z[3 * s + i][3 * t + j], value);
              z[3 * t + j][3 * s + i] = add(z[3 * t + j][3 * s + i], value);
            }
        });
      });
    }
    const currents = this.circuit.coupled(from, to, z);
    sections.forEach((section, s) => {
      for (let phase = 0; phase < 3; phase++) {
        if (section.from === 0) this.note(section.line.id, 0, phase, currents[3 * s + phase], 1);
        if (section.to === section.line.lengthKm) this.note(section.line.id, 1, phase, currents[3 * s + phase], -1);
      }
    });
  }

  private shuntMatrix(element: ElementId, terminal: number, three: Three, y: Complex[][]): void {
    three.forEach((node, i) => {
      const unknown = this.circuit.unknown();
      this.circuit.draw(node, unknown);
      this.circuit.equation(
        three.map((other, j): [NodeIndex, Complex] => [other, y[i][j]]),
        [[unknown, { re: -1, im: 0 }]],
      );
      this.note(element, terminal, i, unknown, 1);
    });
  }

  private fault(fault: PhaseFault, k: number): (number | null)[] {
    if (fault.type === 'open') return this.breakCurrents.get(k)!.map((unknown) => (unknown < 0 ? null : unknown));
    const at =
      'line' in fault.at
        ? this.pointInLine.get(k)!
        : this.phases[this.topology.nodeAt(fault.at.element, fault.at.terminal)!];
    const point = this.circuit.node();
    if (fault.earth) this.circuit.branch(point, ground, fault.earthOhm);
    return [0, 1, 2].map((phase) =>
      fault.phases.includes(phase) ? this.circuit.branch(at[phase], point, fault.phaseOhm) : null,
    );
  }
}

/** Kilometres on both lines at which the common stretch begins and ends. */
function mapping(coupling: LineCoupling, lines: readonly Line[]) {
  const second = lines.find((line) => line.id === coupling.second)!;
  const from = coupling.opposite ? second.lengthKm - coupling.secondFromKm : coupling.secondFromKm;
  return {
    first: [coupling.firstFromKm, coupling.firstFromKm + coupling.lengthKm] as const,
    second: [from, coupling.opposite ? from - coupling.lengthKm : from + coupling.lengthKm] as const,
  };
}
