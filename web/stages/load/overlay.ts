/** What the load flow lays over the drawing. */
import type { BranchFlow, EndFlow, FlowFigures } from '@mesura/core/flow/figures';
import { voltageBand } from '@mesura/core/flow/rating';
import { formatCurrent, formatNumber, withUnit } from '@mesura/core/fields/quantity';
import type { LoadLimits } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { noOverlay, type BusTag, type FlowMark, type Overlay } from '../../diagram/picture/overlay';
import type { BranchFigure, BusFigure } from './state';

/** How near to a limit something is. */
export type Nearness = 'far' | 'near' | 'beyond';

/** From this share of what is allowed on it is told. */
const nearPercent = 90;

export const loadingNearness = (percent: number | null, allowedPercent: number): Nearness =>
  percent === null || percent <= (nearPercent / 100) * allowedPercent
    ? 'far'
    : percent <= allowedPercent
      ? 'near'
      : 'beyond';

export const voltageNearness = (percent: number, limits: LoadLimits, emergency: boolean): Nearness => {
  const { low, high } = voltageBand(limits, emergency);
  return percent === 0 || (percent >= low && percent <= high) ? 'far' : 'beyond';
};

/** What the loading of a branch may be in this condition, in percent of its rated current. */
export const allowedPercent = (limits: LoadLimits, emergency: boolean): number =>
  emergency ? limits.emergencyLoadingPercent : limits.loadingPercent;

/** The end of a branch with the larger share of its rating, else with the larger current. */
export const heavierEnd = ({ ends }: BranchFlow): EndFlow =>
  ends.reduce((p, q) => ((q.loadingPercent ?? q.ampere) > (p.loadingPercent ?? p.ampere) ? q : p));

/** Figures at buses and branches with the direction of the active power; what is near its limit or beyond is marked. */
export function overlayOf(
  figures: FlowFigures,
  limits: LoadLimits,
  emergency: boolean,
  { branchFigure, busFigure }: { readonly branchFigure: BranchFigure; readonly busFigure: BusFigure },
  tokens: { readonly warn: string; readonly fail: string },
  isCurrent: boolean,
): Overlay {
  const tags = new Map<ElementId, BusTag>();
  const flows = new Map<ElementId, FlowMark>();
  const marks = new Map<ElementId, string>();
  const colour = (id: ElementId, nearness: Nearness) => {
    if (nearness !== 'far') marks.set(id, nearness === 'near' ? tokens.warn : tokens.fail);
  };
  for (const { bus, name, kv, percent } of figures.buses) {
    const beyond = voltageNearness(percent, limits, emergency);
    const value = kv === 0 ? 'dead' : busFigure === 'kv' ? withUnit(kv, 'kV') : `${formatNumber(percent)}\u2009%`;
    tags.set(bus, {
      lines: [value],
      title: `${name}: ${kv === 0 ? 'without supply' : `${withUnit(kv, 'kV')}, ${formatNumber(percent)} % of Un`}${isCurrent ? '' : ' (being recalculated)'}`,
      active: beyond === 'beyond',
    });
    colour(bus, beyond);
  }
  for (const branch of figures.branches) {
    const end = heavierEnd(branch);
    // Active power leaves at the end where it is given to the network.
    const leaves = branch.ends.reduce((p, q) => (q.mw < p.mw ? q : p)).terminal;
    const text = textOf(end, branchFigure);
    if (end.ampere > 1e-6) flows.set(branch.element, { text, leavesAt: leaves });
    colour(branch.element, loadingNearness(branch.loadingPercent, allowedPercent(limits, emergency)));
  }
  for (const { element, mw, mvar, kv } of figures.sources)
    if (Math.hypot(mw, mvar) > 1e-9)
      flows.set(element, {
        text:
          branchFigure === 'power'
            ? powerText(mw, mvar)
            : formatCurrent((Math.hypot(mw, mvar) * 1e6) / (Math.sqrt(3) * kv * 1000), 3),
        leavesAt: 0,
      });
  for (const load of figures.loads) {
    if (load.ampere > 1e-6)
      flows.set(load.element, {
        text: branchFigure === 'power' ? powerText(load.mw, load.mvar) : formatCurrent(load.ampere, 3),
        // Into the load: nothing leaves at its only terminal.
        leavesAt: -1,
      });
  }
  for (const { element, loadingPercent } of figures.through)
    colour(element, loadingNearness(loadingPercent, allowedPercent(limits, emergency)));
  return { ...noOverlay, tags, flows, marks };
}

function textOf({ loadingPercent, ampere, mw, mvar }: EndFlow, figure: BranchFigure): string {
  if (figure === 'power') return powerText(mw, mvar);
  if (figure === 'loading' && loadingPercent !== null) return `${formatNumber(loadingPercent, 3)}\u2009%`;
  return formatCurrent(ampere, 3);
}

const powerText = (mw: number, mvar: number): string =>
  `${formatNumber(Math.abs(mw), 3)}\u2009MW ${formatNumber(Math.abs(mvar), 3)}\u2009Mvar`;
