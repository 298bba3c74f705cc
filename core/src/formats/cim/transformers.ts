/** Transformers of a CIM model: windings in ohms of their own voltage become short-circuit voltages, connections a vector group, and a unit with its machine one block. */
import { parseVectorGroup, parseVectorGroup3 } from '../../model/vectorgroup';
import { newElement } from '../../model/defaults';
import { isolatedNeutral, neutralOf, type ElementId, type Neutral } from '../../model/fields';
import type { Tap } from '../../model/branches';
import type { CimObject } from './graph';
import { generatorOf } from './machines';
import { neutralFrom, operationOf, type Making } from './making';
import type { CimTerminal } from './model';

interface End {
  readonly object: CimObject;
  readonly terminal: CimTerminal | undefined;
  readonly kv: number;
  readonly mva: number | undefined;
  readonly r: number;
  readonly x: number;
  readonly r0: number | undefined;
  readonly x0: number | undefined;
  /** "D", "Y", "YN", "Z", "ZN", "A". */
  readonly winding: string;
  readonly clock: number;
  readonly neutral: Neutral | null;
}

export function* transformers(making: Making): Generator<number, void> {
  const { model, brought } = making;
  const all = model.graph.ofType('PowerTransformer');
  let done = 0;
  for (const object of all) {
    if (++done % 200 === 0) yield (0.2 * done) / all.length;
    const ends = endsOf(object, making);
    if (!ends) continue;
    if (ends.length === 1) earthingTransformer(object, ends[0], making);
    else if (ends.length === 2) twoWindings(object, ends[0], ends[1], making);
    else if (ends.length === 3) threeWindings(object, [ends[0], ends[1], ends[2]], making);
    else brought.left.add(`transformers with ${ends.length} windings`, model.labelOf(object));
  }
}

/** Windings, the highest voltage first; null, and told, where one lacks its voltage. */
function endsOf(object: CimObject, making: Making): End[] | null {
  const { model, brought } = making;
  const { graph } = model;
  const own = model.terminalsOf(object);
  const found: End[] = [];
  for (const end of graph.linking('PowerTransformerEnd.PowerTransformer', object)) {
    const of = (name: string) => model.number(end, `PowerTransformerEnd.${name}`);
    const terminalObject = graph.linked(end, 'TransformerEnd.Terminal');
    const number = model.number(end, 'TransformerEnd.endNumber') ?? found.length + 1;
    const terminal = own.find((each) => each.object === terminalObject) ?? own[number - 1];
    const rated = of('ratedU');
    const kv = rated && rated > 0 ? rated : model.kvAtTerminal(terminal, end);
    if (kv === undefined) {
      brought.wrong.add('a winding without voltage: the transformer is left out', model.labelOf(object));
      return null;
    }
    const kind = model.choice(end, 'PowerTransformerEnd.connectionKind');
    const grounded = model.flag(end, 'TransformerEnd.grounded');
    const [rn = 0, xn = 0] = [model.number(end, 'TransformerEnd.rground'), model.number(end, 'TransformerEnd.xground')];
    const mva = of('ratedS');
    found.push({
      object: end,
      terminal,
      kv,
      mva: mva !== undefined && mva > 0 ? mva : undefined,
      r: of('r') ?? 0,
      x: of('x') ?? 0,
      r0: of('r0'),
      x0: of('x0'),
      winding: (kind ?? '').toUpperCase(),
      clock: of('phaseAngleClock') ?? 0,
      neutral: grounded === undefined ? null : neutralFrom(grounded, rn, xn),
    });
    if ((of('b') ?? 0) !== 0 || (of('g') ?? 0) !== 0)
      brought.left.add('magnetising branch of transformers', model.labelOf(object));
  }
  if (found.length === 0) {
    brought.wrong.add('a transformer without windings', model.labelOf(object));
    return null;
  }
  return found.sort((p, q) => q.kv - p.kv);
}

const mod12 = (clock: number): number => ((Math.round(clock) % 12) + 12) % 12;

/** "Dyn11" of windings; null where they do not make one. */
function groupOf(hv: End, lv: readonly End[]): string | null {
  if ([hv, ...lv].some(({ winding }) => winding === '' || winding === 'I')) return null;
  const first =
    hv.winding === 'A' ? 'YN' : hv.winding === 'Y' && lv.some(({ winding }) => winding === 'A') ? 'YN' : hv.winding;
  const clocks = lv.map((end) => mod12(end.clock - hv.clock));
  return `${first}${lv.map(({ winding }, k) => `${winding.toLowerCase()}${winding === 'A' ? (lv.length > 1 ? clocks[k] : '0') : clocks[k]}`).join('')}`;
}

const usualNeutral = (winding: string | undefined): Neutral =>
  winding === 'YN' || winding === 'ZN' ? neutralOf('solid') : isolatedNeutral;

/** Short-circuit voltages in percent on a rating, of ohms on a voltage. */
function percentOf(r: number, x: number, kv: number, mva: number) {
  const perOhm = (100 * mva) / kv ** 2;
  return { ukPercent: Math.hypot(r, x) * perOhm, uRPercent: Math.max(0, r) * perOhm };
}

/** Sum of ohms of windings, each taken to the voltage of the first. */
const summed = (ends: readonly End[], of: (end: End) => number): number =>
  ends.reduce((sum, end) => sum + of(end) * (ends[0].kv / end.kv) ** 2, 0);

function zeroOf(ends: readonly End[], r: number, x: number) {
  if (ends.every(({ x0 }) => x0 === undefined || x0 === 0)) return null;
  return {
    x0OverX1: summed(ends, ({ x0 }) => x0 ?? 0) / x,
    // Without resistance the ratio says nothing; one is as good as any.
    r0OverR1: r > 0 ? summed(ends, ({ r0 }) => r0 ?? 0) / r : 1,
  };
}

function twoWindings(object: CimObject, hv: End, lv: End, making: Making): void {
  const { model, brought } = making;
  const label = model.labelOf(object);
  const [r, x] = [summed([hv, lv], (end) => end.r), summed([hv, lv], (end) => end.x)];
  if (x <= 0) return brought.wrong.add('a transformer without reactance cannot be taken', label);
  const stated = hv.mva ?? lv.mva;
  // On a rating on which it would exceed 100 % no transformer is built.
  const ratedMva = stated ?? Math.min(100, (0.9 * hv.kv ** 2) / Math.hypot(r, x));
  if (stated === undefined) brought.assumed.add('rated power of transformers', label);
  const group = groupOf(hv, [lv]);
  const fits = group !== null && parseVectorGroup(group) !== null;
  const isAuto = lv.winding === 'A';
  if (!fits)
    brought.assumed.add('vector group YNyn0 of transformers, where none is given or the given one cannot be', label);
  const vectorGroup = fits ? group : 'YNyn0';
  const zero = zeroOf([hv, lv], r, x);
  if (!zero) brought.assumed.add('zero sequence of transformers: unknown, or X0/X1 as the vector group allows', label);
  const shape = { ...percentOf(r, x, hv.kv, ratedMva) };
  const hvNeutral = isAuto
    ? hv.neutral?.earthing === 'isolated'
      ? lv.neutral
      : (hv.neutral ?? lv.neutral)
    : hv.neutral;
  const tap = tapOf(hv.object, 'hv', making) ?? tapOf(lv.object, 'lv', making);
  const machine = model.flag(object, 'PowerTransformer.isPartOfGeneratorUnit') ? machineAt(lv, making) : null;
  if (machine)
    return unit(
      object,
      hv,
      lv,
      machine,
      { ...shape, ratedMva, vectorGroup, hvNeutral, zero, ...unitTaps(hv, lv, tap, making) },
      making,
    );
  const made = brought.add(
    'transformer',
    object.id,
    model.nameOf(object),
    {
      hvKv: hv.kv,
      lvKv: lv.kv,
      ...shape,
      ...(stated !== undefined && { ratedMva }),
      ...(fits && { vectorGroup }),
      ...zero,
      ...(hvNeutral && { hvNeutral }),
      ...(lv.neutral && { lvNeutral: isAuto ? isolatedNeutral : lv.neutral }),
      ...(tap && { tap }),
    },
    {
      ...(stated === undefined && { ratedMva }),
      ...(!fits && { vectorGroup }),
      ...(!hvNeutral && { hvNeutral: usualNeutral(hv.winding || 'YN') }),
      ...(!lv.neutral && { lvNeutral: isAuto ? isolatedNeutral : usualNeutral(lv.winding || 'YN') }),
    },
  );
  making.tie(made, [hv.terminal, lv.terminal]);
}

/** The one machine beside the low-voltage winding. */
function machineAt(lv: End, making: Making): CimObject | null {
  const machines =
    lv.terminal?.node?.terminals.filter(({ equipment }) => equipment.type === 'SynchronousMachine') ?? [];
  return machines.length === 1 && !making.consumed.has(machines[0].equipment) ? machines[0].equipment : null;
}

/** Of a unit transformer it matters whether taps are changed on load, and if not how far they reach (pT of IEC 60909-0, 6.7.2). */
function unitTaps(hv: End, lv: End, tap: Tap | null, { model }: Making) {
  const changer = [hv, lv].flatMap(({ object }) => model.graph.linking('RatioTapChanger.TransformerEnd', object))[0];
  const onLoadTapChanger = changer !== undefined && model.flag(changer, 'TapChanger.ltcFlag') !== false;
  return { onLoadTapChanger, pTPercent: tap && !onLoadTapChanger ? Math.min(20, tap.steps * tap.stepPercent) : 0 };
}

interface UnitTransformer {
  readonly ratedMva: number;
  readonly ukPercent: number;
  readonly uRPercent: number;
  readonly vectorGroup: string;
  readonly hvNeutral: Neutral | null;
  readonly zero: { readonly x0OverX1: number; readonly r0OverR1: number } | null;
  readonly onLoadTapChanger: boolean;
  readonly pTPercent: number;
}

/** Generator and unit transformer as one block: it has a correction factor of its own (IEC 60909-0, 6.7). */
function unit(object: CimObject, hv: End, lv: End, machine: CimObject, given: UnitTransformer, making: Making): void {
  const { model, brought } = making;
  const generator = generatorOf(machine, making);
  if (!generator) return;
  const { ratedMva, ukPercent, uRPercent, vectorGroup, hvNeutral, zero, onLoadTapChanger, pTPercent } = given;
  const operation = operationOf(machine, making, 'RotatingMachine');
  const usual = newElement('powerStationUnit', 'usual' as ElementId, 'usual').generator;
  const made = brought.add(
    'powerStationUnit',
    object.id,
    model.nameOf(object),
    {
      generator: { ...usual, ...generator.assumes, ...generator.says },
      transformer: {
        ratedMva,
        hvKv: hv.kv,
        lvKv: lv.kv,
        ukPercent,
        uRPercent,
        vectorGroup,
        onLoadTapChanger,
        pTPercent,
        x0OverX1: zero?.x0OverX1 ?? null,
        r0OverR1: zero?.r0OverR1 ?? null,
      },
      ...(hvNeutral && { hvNeutral }),
      ...(operation && { operation }),
    },
    {},
  );
  if (!made) return;
  making.consumed.add(machine);
  making.tie(made, [hv.terminal, lv.terminal]);
}

function threeWindings(object: CimObject, ends: readonly [End, End, End], making: Making): void {
  const { model, brought } = making;
  const label = model.labelOf(object);
  const [hv, mv, lv] = ends;
  const largest = Math.max(...ends.map(({ mva }) => mva ?? 0));
  if (largest === 0) brought.assumed.add('rated power of transformers', label);
  const rated = (end: End) => end.mva ?? (largest || 100);
  const pair = (p: End, q: End) => {
    const both = [p, q];
    const [r, x] = [summed(both, (end) => end.r), summed(both, (end) => end.x)];
    const ratedMva = Math.min(rated(p), rated(q));
    const zero = zeroOf(both, r, x);
    return {
      ratedMva,
      ...percentOf(r, x, p.kv, ratedMva),
      x0OverX1: zero?.x0OverX1 ?? null,
      r0OverR1: zero?.r0OverR1 ?? null,
    };
  };
  const group = groupOf(hv, [mv, lv]);
  const fits = group !== null && parseVectorGroup3(group) !== null;
  if (!fits)
    brought.assumed.add(
      'vector group YNyn0d1 of three-winding transformers, where none is given or the given one cannot be',
      label,
    );
  const tap = tapOf(hv.object, 'hv', making) ?? tapOf(lv.object, 'lv', making);
  const neutrals = {
    ...(hv.neutral && { hvNeutral: hv.neutral }),
    ...(mv.neutral && { mvNeutral: mv.neutral }),
    ...(lv.neutral && { lvNeutral: lv.neutral }),
  };
  const made = brought.add(
    'threeWindingTransformer',
    object.id,
    model.nameOf(object),
    {
      hvKv: hv.kv,
      mvKv: mv.kv,
      lvKv: lv.kv,
      hvMv: pair(hv, mv),
      hvLv: pair(hv, lv),
      mvLv: pair(mv, lv),
      ...(fits && { vectorGroup: group }),
      ...neutrals,
      ...(tap && { tap }),
    },
    { ...(!fits && { vectorGroup: 'YNyn0d1' }) },
  );
  making.tie(made, [hv.terminal, mv.terminal, lv.terminal]);
}

/** A single zigzag winding: a path for the zero sequence and nothing else. */
function earthingTransformer(object: CimObject, end: End, making: Making): void {
  const { model, brought } = making;
  const { r0 = 0, x0 } = end;
  if (x0 === undefined || x0 <= 0)
    return brought.wrong.add('an earthing transformer without zero-sequence reactance', model.labelOf(object));
  const made = brought.add('earthingTransformer', object.id, model.nameOf(object), {
    ratedKv: end.kv,
    r0Ohm: r0,
    x0Ohm: x0,
    neutral: end.neutral ?? neutralOf('solid'),
  });
  making.tie(made, [end.terminal]);
}

/** The tap changer of a winding, its side as the element calls it. */
function tapOf(end: CimObject | undefined, side: 'hv' | 'lv', { model, brought }: Making): Tap | null {
  const changer = end && model.graph.linking('RatioTapChanger.TransformerEnd', end)[0];
  if (!changer) return null;
  const of = (name: string) => model.number(changer, `TapChanger.${name}`);
  const [low = 0, high = 0, neutral = 0] = [of('lowStep'), of('highStep'), of('neutralStep')];
  const step = of('step') ?? of('normalStep') ?? neutral;
  const stepPercent = Math.abs(model.number(changer, 'RatioTapChanger.stepVoltageIncrement') ?? 0);
  const sign = (model.number(changer, 'RatioTapChanger.stepVoltageIncrement') ?? 0) < 0 ? -1 : 1;
  const position = sign * Math.round(step - neutral);
  if (Math.abs(step - neutral - Math.round(step - neutral)) > 1e-9)
    brought.assumed.add('tap positions between two steps are rounded', model.labelOf(changer));
  const steps = Math.max(Math.abs(position), Math.round(high - neutral), Math.round(neutral - low), 0);
  if (stepPercent > 10 || steps > 40 || steps === 0) {
    brought.left.add('a tap changer with impossible steps', model.labelOf(changer));
    return null;
  }
  return { side, position, steps, stepPercent, holds: 'nothing', targetPercent: 100 };
}
