/** Transformers as CIM: the counterpart of `transformers`. */
import { starLegs } from '../../sequence/threeWindingTransformer';
import { impedance, type Impedance } from '../../sequence/stamp';
import { parseVectorGroup, parseVectorGroup3, type Winding } from '../../model/vectorgroup';
import type { Tap, WindingPair } from '../../model/branches';
import type { Element } from '../../model/element';
import type { Neutral } from '../../model/fields';
import type { Property } from './document';
import type { Writers } from './writers';
import type { Writing } from './write';

export const transformerWriters: Writers = {
  transformer(unit, writing) {
    const { hv, lv, clock } = parseVectorGroup(unit.vectorGroup)!;
    const z = ohms(unit, unit.hvKv);
    transformerObject(unit, writing, {});
    if (unit.shiftDegrees !== 0) writing.left.add('additional phase shift of transformers', unit.name);
    if (unit.core !== 'unspecified' || unit.x0mPercent !== null)
      writing.left.add('core and zero-sequence magnetising reactance of transformers', unit.name);
    const isAuto = lv === 'A';
    const first = winding(unit, writing, 0, {
      kv: unit.hvKv,
      mva: unit.ratedMva,
      z,
      zero: zeroOhms(unit, z),
      winding: hv,
      clock: 0,
      neutral: unit.hvNeutral,
    });
    const second = winding(unit, writing, 1, {
      kv: unit.lvKv,
      mva: unit.ratedMva,
      z: impedance(0, 0),
      zero: impedance(0, 0),
      winding: lv,
      clock,
      neutral: isAuto ? unit.hvNeutral : unit.lvNeutral,
    });
    tapChanger(unit.tap, { hv: first, lv: second }, writing, unit);
  },

  threeWindingTransformer(unit, writing) {
    const { windings, clocks } = parseVectorGroup3(unit.vectorGroup)!;
    transformerObject(unit, writing, {});
    if (unit.core !== 'unspecified' || unit.x0mPercent !== null)
      writing.left.add('core and zero-sequence magnetising reactance of transformers', unit.name);
    const pairs = [unit.hvMv, unit.hvLv, unit.mvLv];
    const of = (pair: WindingPair) => ohms(pair, unit.hvKv);
    const at = (pair: WindingPair, kv: number) => scaledTo(ohms(pair, kv), (unit.hvKv / kv) ** 2);
    const legs = starLegs(of(unit.hvMv), of(unit.hvLv), at(unit.mvLv, unit.mvKv));
    const knowsZero = pairs.every(({ x0OverX1 }) => x0OverX1 !== null);
    const zeros = knowsZero
      ? starLegs(
          zeroOhms(unit.hvMv, of(unit.hvMv))!,
          zeroOhms(unit.hvLv, of(unit.hvLv))!,
          scaledTo(zeroOhms(unit.mvLv, ohms(unit.mvLv, unit.mvKv))!, (unit.hvKv / unit.mvKv) ** 2),
        )
      : null;
    const rated = [
      Math.max(unit.hvMv.ratedMva, unit.hvLv.ratedMva),
      Math.max(unit.hvMv.ratedMva, unit.mvLv.ratedMva),
      Math.max(unit.hvLv.ratedMva, unit.mvLv.ratedMva),
    ];
    const byWindings = [Math.min(rated[0], rated[1]), Math.min(rated[0], rated[2]), Math.min(rated[1], rated[2])];
    if (pairs.some(({ ratedMva }, k) => ratedMva !== byWindings[k]))
      writing.left.add('ratings of pairs of windings that no ratings of single windings make', unit.name);
    const kvs = [unit.hvKv, unit.mvKv, unit.lvKv];
    const neutrals = [unit.hvNeutral, unit.mvNeutral, unit.lvNeutral];
    const ends = windings.map((of3, k) => {
      const share = (kvs[k] / unit.hvKv) ** 2;
      return winding(unit, writing, k, {
        kv: kvs[k],
        mva: rated[k],
        z: scaledTo(legs[k], share),
        zero: zeros && scaledTo(zeros[k], share),
        winding: of3,
        clock: clocks[k],
        neutral: of3 === 'A' ? unit.hvNeutral : neutrals[k],
      });
    });
    tapChanger(unit.tap, { hv: ends[0], lv: ends[2] }, writing, unit);
  },

  earthingTransformer(unit, writing) {
    transformerObject(unit, writing, {});
    winding(unit, writing, 0, {
      kv: unit.ratedKv,
      mva: null,
      z: impedance(0, 0),
      zero: impedance(unit.r0Ohm, unit.x0Ohm),
      winding: 'ZN',
      clock: 0,
      neutral: unit.neutral,
    });
  },
};

/** Leakage impedance in ohms at `kv`. */
export function ohms(
  { ratedMva, ukPercent, uRPercent }: { ratedMva: number; ukPercent: number; uRPercent: number },
  kv: number,
): Impedance {
  const base = kv ** 2 / ratedMva / 100;
  return impedance(uRPercent * base, Math.sqrt(Math.max(0, ukPercent ** 2 - uRPercent ** 2)) * base);
}

const scaledTo = (z: Impedance, by: number): Impedance => impedance(z.rOhm * by, z.xOhm * by);

export const zeroOhms = (
  { x0OverX1, r0OverR1 }: { x0OverX1: number | null; r0OverR1: number | null },
  z: Impedance,
): Impedance | null => (x0OverX1 === null ? null : impedance((r0OverR1 ?? 1) * z.rOhm, x0OverX1 * z.xOhm));

export function transformerObject(
  element: Element & { name: string },
  writing: Writing,
  more: Readonly<Record<string, Property>>,
): void {
  writing.eq.add('PowerTransformer', writing.idOf(element), {
    'IdentifiedObject.name': element.name,
    'Equipment.EquipmentContainer': { to: writing.stationOf(element.id) },
    ...more,
  });
}

interface WindingData {
  readonly kv: number;
  readonly mva: number | null;
  readonly z: Impedance;
  readonly zero: Impedance | null;
  readonly winding: Winding;
  readonly clock: number;
  readonly neutral: Neutral;
}

const connectionKinds: Readonly<Record<Winding, string>> = { D: 'D', Y: 'Y', YN: 'Yn', Z: 'Z', ZN: 'Zn', A: 'A' };

/** A winding with its terminal; gives the identifier of its end. */
export function winding(element: Element & { name: string }, writing: Writing, k: number, data: WindingData): string {
  const terminal = writing.terminal(element, k, k, writing.kvAt(element.id, k, data.kv));
  const id = writing.id(`winding ${element.id} ${k}`);
  const earthed =
    data.neutral.earthing !== 'isolated' && (data.winding === 'YN' || data.winding === 'ZN' || data.winding === 'A');
  const through = earthed && data.neutral.earthing !== 'solid';
  if (data.neutral.earthing === 'coil' && earthed)
    writing.left.add('that a reactance at a neutral is a coil tuned to the network', element.name);
  writing.eq.add('PowerTransformerEnd', id, {
    'IdentifiedObject.name': `${element.name} ${k + 1}`,
    'PowerTransformerEnd.PowerTransformer': { to: writing.idOf(element) },
    'TransformerEnd.Terminal': { to: terminal },
    'TransformerEnd.endNumber': k + 1,
    'TransformerEnd.BaseVoltage': { to: writing.baseVoltage(writing.kvAt(element.id, k, data.kv)) },
    'PowerTransformerEnd.ratedU': data.kv,
    'PowerTransformerEnd.ratedS': data.mva,
    'PowerTransformerEnd.r': data.z.rOhm,
    'PowerTransformerEnd.x': data.z.xOhm,
    'PowerTransformerEnd.b': 0,
    'PowerTransformerEnd.g': 0,
    'PowerTransformerEnd.r0': data.zero?.rOhm,
    'PowerTransformerEnd.x0': data.zero?.xOhm,
    'PowerTransformerEnd.connectionKind': { choice: `WindingConnection.${connectionKinds[data.winding]}` },
    'PowerTransformerEnd.phaseAngleClock': data.clock,
    'TransformerEnd.grounded': earthed,
    'TransformerEnd.rground': through ? data.neutral.rOhm : null,
    'TransformerEnd.xground': through && data.neutral.earthing !== 'resistor' ? data.neutral.xOhm : null,
  });
  return id;
}

export function tapChanger(
  tap: Tap,
  ends: Readonly<Record<'hv' | 'lv', string>>,
  writing: Writing,
  element: Element & { name: string },
  onLoad = true,
): void {
  if (tap.side === 'none' || tap.steps === 0) return;
  if (tap.holds !== 'nothing') writing.left.add('which voltage a tap changer holds', element.name);
  const id = writing.id(`tap changer ${element.id}`);
  writing.eq.add('RatioTapChanger', id, {
    'IdentifiedObject.name': `${element.name} taps`,
    'RatioTapChanger.TransformerEnd': { to: ends[tap.side] },
    'TapChanger.lowStep': -tap.steps,
    'TapChanger.highStep': tap.steps,
    'TapChanger.neutralStep': 0,
    'TapChanger.normalStep': tap.position,
    'TapChanger.ltcFlag': onLoad,
    'RatioTapChanger.stepVoltageIncrement': tap.stepPercent,
  });
  writing.ssh.add('RatioTapChanger', id, { 'TapChanger.step': tap.position, 'TapChanger.controlEnabled': false });
}
