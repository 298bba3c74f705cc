/** What a setting sheet contains, as data: the screen, the PDF and the frozen revision are made from this alone. */
import { sensitivities } from '../checks/settings/sensitivity';
import { deviceFigures, referenceFactor } from '../grading/figures';
import { pairMargin, pairStates } from '../grading/margin';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { originOf, originWords } from '../proposals/origin';
import { find, ofKind, settingsOf, type Network } from '../model/network';
import { stationOf } from '../model/stations';
import { modesOf, type GradingChart, type Measured } from '../model/chart';
import { conditionOf } from '../model/state';
import { curvePoints, curvesOf, operatingTime, quantityOfMode } from '../protection/curve';
import { currentOf, deviceKindTitles, deviceOf, mainInput, type Device } from '../protection/device';
import type { SheetFunction } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { Studies } from '../studies/studies';
import type { Run } from '../checks/run';
import { finished } from '../working/steps';
import {
  sheetForm,
  type SheetContent,
  type SheetCurve,
  type SheetFault,
  type SheetInput,
  type SheetMargin,
  type SheetOrigin,
} from './content';
import { rounded } from './rounded';
import { sheetPlanes, sheetZones } from './pictures';
import { sheetChecks, sheetStatements, sheetTrials } from './statements';
import { sheetScales, sheetValues } from './values';

/**
 * Content of the sheet of one device as things stand; null when there is no such device. `run`: checks of the same network and its conditions, where they are at
 * hand; otherwise those that the sheet needs are run.
 */
export function sheetContent(studies: Studies, id: ElementId, run?: Pick<Run, 'checks'>): SheetContent | null {
  const { network } = studies;
  const device = deviceOf(network, id);
  if (!device) return null;
  const { element } = device;
  const main = mainInput(device);
  const ct = main ? find(network, 'currentTransformer', main.through) : undefined;
  const settings = settingsOf(network);
  const { topology } = studies.max.assembly;
  const node = main && topology.nodeAt(main.through, 0);
  const nominalKv = node === undefined ? null : topology.nodes[node].nominalKv;
  const charts = ofKind(network, 'gradingChart').filter((chart) => chart.relays.includes(id));
  return rounded({
    form: sheetForm,
    subject: 'device',
    station: stationOf(network, id)?.name ?? '',
    relay: {
      id,
      name: device.name,
      device: element.kind === 'relay' ? element.device : deviceKindTitles[device.kind],
      note: element.note,
    },
    owner: settings.owner,
    frequencyHz: settings.frequencyHz,
    ct: ct ? { name: ct.name, primaryA: ct.primaryA, secondaryA: ct.secondaryA, accuracy: ct.accuracy } : null,
    nominalKv,
    inputs: sheetInputs(network, device),
    trips: device.opens.map((each) => nameOf(network.elements.get(each)!)),
    openingS: device.openingS,
    functions: sheetFunctions(device),
    scales: sheetScales(device),
    values: sheetValues(network, device),
    notInUse: device.functions.filter((fn) => !fn.enabled).map((fn) => familyOf(fn).code(fn)),
    ...(sheetOrigins(device).length > 0 && { origins: sheetOrigins(device) }),
    faults: sheetFaults(studies, device),
    sensitivities: sensitivities(studies, device, studies.conditions).map(({ measured, figure, factor, currentA }) => ({
      measured,
      place: figure.placeName,
      currentA,
      factor,
    })),
    margins: charts.flatMap((chart) => sheetMargins(studies, chart, id)),
    chart: nominalKv === null ? [] : sheetCharts(studies, device, charts, nominalKv),
    statements: sheetStatements(network, device, run ?? finished(sheetChecks(studies, [device]))),
    trials: sheetTrials(studies, device),
    zones: sheetZones(studies, device),
    planes: sheetPlanes(studies, device),
  });
}

/** Where it measures, by what is written on the transformers. */
function sheetInputs(network: Network, device: Device): SheetInput[] {
  const { element } = device;
  if (element.kind === 'switch') return [];
  return element.inputs.map((input): SheetInput => {
    const ct = input.element === null ? undefined : find(network, 'currentTransformer', input.element);
    const vt = input.element === null ? undefined : find(network, 'voltageTransformer', input.element);
    const at = input.element === null ? undefined : network.elements.get(input.element);
    const common = { type: input.type, reversed: input.reversed };
    if (ct)
      return {
        ...common,
        name: ct.name,
        primary: { value: ct.primaryA, unit: 'A' },
        secondary: { value: ct.secondaryA, unit: 'A' },
        accuracy: ct.accuracy,
      };
    if (vt)
      return {
        ...common,
        name: vt.name,
        primary: { value: vt.primaryKv, unit: 'kV' },
        secondary: { value: vt.secondaryV, unit: 'V' },
        accuracy: '',
      };
    return {
      ...common,
      name: at ? nameOf(at) : '',
      primary: input.star ? { value: input.star.primaryA, unit: 'A' } : null,
      secondary: input.star ? { value: input.star.secondaryA, unit: 'A' } : null,
      accuracy: '',
    };
  });
}

const sheetFunctions = (device: Device): SheetFunction[] =>
  device.functions.flatMap((fn) => {
    const input = device.inputs.find(({ id }) => id === fn.input) ?? mainInput(device);
    const row = fn.enabled && input ? familyOf(fn).sheet?.(fn, input.rating) : undefined;
    return row ? [row] : [];
  });

const sheetOrigins = (device: Device): SheetOrigin[] =>
  device.functions.flatMap((fn) =>
    (fn.origins ?? []).flatMap(({ field }): SheetOrigin[] => {
      const origin = originOf(fn, field);
      const setting = familyOf(fn)
        .settings(fn)
        .find((each) => each.field === field);
      if (!origin) return [];
      return [
        {
          code: familyOf(fn).code(fn),
          setting: setting?.title ?? 'In use',
          value: origin.value,
          words: originWords(origin),
        },
      ];
    }),
  );

function sheetFaults(studies: Studies, device: Device): SheetFault[] {
  const main = mainInput(device);
  if (!main) return [];
  const curves = curvesOf(device);
  const { closeIn, farEnd } = deviceFigures(studies, device, studies.conditions);
  return [...closeIn, ...farEnd].map(({ placeName, nominalKv, kind, condition, seen }) => {
    const { timeS, by } = operatingTime(curves, { [main.id]: seen });
    return {
      place: placeName,
      nominalKv,
      kind,
      conditionId: condition,
      condition: conditionOf(studies.network, condition)!.name,
      phaseA: seen.phaseA,
      residualA: seen.residualA,
      tripS: Number.isFinite(timeS) ? timeS : null,
      by: by?.code ?? null,
    };
  });
}

function sheetMargins(studies: Studies, chart: GradingChart, id: ElementId): SheetMargin[] {
  const { network, conditions } = studies;
  const own = chart.pairs.filter((pair) => pair.downstream === id || pair.upstream === id);
  return modesOf(chart).flatMap((measured) =>
    own.flatMap((pair) => {
      const [below, above] = [deviceOf(network, pair.downstream), deviceOf(network, pair.upstream)];
      if (!below || !above) return [];
      const states = pairStates(studies, below, above, measured, conditions);
      const margin = pairMargin(network, states, pair, measured);
      return [
        {
          chart: chart.name,
          measured,
          downstream: below.name,
          upstream: above.name,
          verdict: margin.verdict,
          reason: margin.reason,
          wantedS: margin.wantedS,
          marginS: margin.decisive?.marginS ?? null,
          atA: margin.decisive?.downstreamA ?? null,
        },
      ];
    }),
  );
}

/** The device's own curves and those of its grading partners, referred to the device's level; a chart for each quantity that it measures. */
function sheetCharts(
  studies: Studies,
  device: Device,
  charts: readonly GradingChart[],
  referenceKv: number,
): SheetContent['chart'] {
  const { network } = studies;
  return (['phase', 'earth', 'negative'] as const).flatMap((measured) => {
    const quantity = quantityOfMode[measured];
    const partners = charts
      .filter((chart) => modesOf(chart).includes(measured))
      .flatMap((chart) => chart.pairs)
      .filter((pair) => pair.downstream === device.id || pair.upstream === device.id)
      .flatMap((pair) => [pair.downstream, pair.upstream]);
    const curves = [...new Set([device.id, ...partners])].flatMap((id): SheetCurve[] => {
      const other = deviceOf(network, id);
      const factor = other && referenceFactor(studies, other, referenceKv);
      if (!other || factor === null || factor === undefined) return [];
      const own = curvesOf(other);
      const pickup = Math.min(...own.functions.filter((fn) => fn.quantity === quantity).map((fn) => fn.pickupA));
      if (!Number.isFinite(pickup)) return [];
      const points = curvePoints(own, quantity, largestSeen(studies, other, measured) || pickup * 20, 30);
      return [
        {
          label: other.name,
          own: id === device.id,
          points: points.map((p) => ({ ...p, currentA: p.currentA * factor })),
        },
      ];
    });
    return curves.some((curve) => curve.own) ? [{ measured, referenceKv, curves }] : [];
  });
}

/** A curve ends at the largest current that its device can see; nought when none reaches it. */
const largestSeen = (studies: Studies, device: Device, measured: Measured): number =>
  Math.max(
    0,
    ...deviceFigures(studies, device, studies.conditions).closeIn.map(({ seen }) =>
      currentOf(seen, quantityOfMode[measured]),
    ),
  );
