/** Loadability of an end after NERC PRC-023 (as remembered), and what current transformers and relays carry on and on. */
import { magnitude } from '../linear/complex';
import type { LinePackage, LoadCriterion } from '../model/linePackage';
import { ofKind } from '../model/network';
import {
  characteristicOf,
  loadProof,
  pickupProof,
  ratedByReach,
  type Criterion,
  type LoadProof,
  type Required,
} from '../reach/loadability';
import type { ReachRow } from '../reach/plan';
import type { LineEnd } from '../reach/seen';
import type { Studies } from '../studies/studies';
import type { PackageElement, PackageEnd } from './elements';

export const criterionTitles: Readonly<Record<LoadCriterion, string>> = {
  '1': '150 % of the rating nearest to 4 hours',
  '2': '115 % of the rating for 15 minutes',
  '3a': '115 % of the greatest transfer, stiff sources',
  '3b': '115 % of the greatest transfer, real sources',
  '4': '115 % of rating or transfer, series compensated line',
  '5': '170 % of the largest fault at the far end, weak source',
  '6': '230 % of the generation behind the line',
  '7': '115 % of the largest flow from load to generation',
  '8': '115 % of the largest flow from the system to the load',
  '9': '115 % of the largest flow from the load to the system',
  '10': '150 % of the name plate or 115 % of the emergency rating of a transformer',
  '11': 'overload protection of a transformer',
  '12': 'the reach that the line needs, which rates the line',
  '13': '115 % of another practical limit',
};

export interface LoadStatement {
  readonly end: LineEnd;
  readonly id: string;
  readonly title: string;
  /** What it carries, and what it must carry, in primary amperes. */
  readonly carriesA: number;
  readonly requiredA: number;
  readonly marginPercent: number;
  readonly holds: boolean;
  readonly proof: LoadProof | null;
}

export interface Loading {
  readonly criterion: LoadCriterion;
  readonly end: LineEnd;
  readonly required: Required | null;
  /** What the criterion lacks; empty where it has all. */
  readonly missing: string;
  readonly statements: readonly LoadStatement[];
  /** By criterion 12: the rating that the line has by the reach that it needs. */
  readonly rates: ReturnType<typeof ratedByReach> | null;
}

/** The numbers of a criterion at an end, or what is missing. */
function criterionAt(
  studies: Studies,
  pack: LinePackage,
  end: PackageEnd,
  others: readonly PackageEnd[],
): Criterion | string {
  const { row, figures } = end;
  const { nominalKv } = row;
  const of = (name: string) => (figures[name]?.value ? magnitude(figures[name].value) : null);
  const ratingA = of('emergencyLoad');
  const lineX = figures.own.value?.im ?? null;
  // What stands behind an end, by the three-phase current that it sends into a fault close in.
  const sourceX = ({ figures: at }: PackageEnd): number | null => {
    const ampere = at.closeLargest3ph?.value ? magnitude(at.closeLargest3ph.value) : null;
    return ampere ? (nominalKv * 1000) / (Math.sqrt(3) * ampere) : null;
  };
  switch (pack.criterion) {
    case '1':
      return ratingA === null ? 'a rating of the line' : { criterion: 1, ratingA };
    case '2':
      return pack.fifteenMinuteA === null
        ? 'the rating for 15 minutes'
        : { criterion: 2, rating15A: pack.fifteenMinuteA };
    case '3a':
      return lineX === null ? 'the reactance of the line' : { criterion: '3a', nominalKv, lineX };
    case '3b': {
      const nearX = sourceX(end);
      const farX = others.length > 0 ? sourceX(others[0]) : null;
      return lineX === null || nearX === null || farX === null
        ? 'a source behind both ends'
        : { criterion: '3b', nominalKv, nearX, lineX, farX };
    }
    case '4':
      return ratingA === null || lineX === null
        ? 'a rating and the reactance of the line'
        : { criterion: 4, ratingA, transferA: (Math.SQRT2 * nominalKv * 1000) / (Math.sqrt(3) * lineX) };
    case '5': {
      const endFaultA = of('remoteLargest3ph');
      return endFaultA === null ? 'a fault at the far end' : { criterion: 5, endFaultA };
    }
    case '6':
      return pack.generationMva === null
        ? 'the generation behind the line'
        : { criterion: 6, nominalKv, generationMva: pack.generationMva };
    case '7':
    case '8':
    case '9':
      return pack.largestFlowA === null
        ? 'the largest flow'
        : { criterion: Number(pack.criterion) as 7 | 8 | 9, flowA: pack.largestFlowA };
    case '10':
    case '11': {
      const unit = ofKind(studies.network, 'transformer').find(({ id }) =>
        row.figures.transformer.elements.includes(id),
      );
      return unit
        ? {
            criterion: 10,
            nominalKv,
            nameplateMva: unit.ratedMva,
            emergencyA: ((unit.emergencyPercent ?? 100) / 100) * ((unit.ratedMva * 1000) / (Math.sqrt(3) * nominalKv)),
          }
        : 'a transformer at the far end';
    }
    case '12': {
      const own = figures.own.value;
      if (!own) return 'the impedance of the line';
      const { ratingA: rated } = ratedByReach(nominalKv, magnitude(own), row.lineAngleDeg, steepestOf(row));
      return { criterion: 13, limitA: rated };
    }
    case '13':
      return pack.practicalLimitA === null ? 'the practical limit' : { criterion: 13, limitA: pack.practicalLimitA };
  }
}

/** Steepest angle that the characteristic can be set to. */
const steepestOf = ({ relay }: ReachRow): number => (relay?.fn?.characteristic === 'quadrilateral' ? 87 : 90);

export function loadingOf(
  studies: Studies,
  pack: LinePackage,
  end: PackageEnd,
  others: readonly PackageEnd[],
  elements: readonly PackageElement[],
): Loading {
  const { row } = end;
  const of = criterionAt(studies, pack, end, others);
  const own = elements.filter((each) => each.end === row.end);
  const valueOf = (id: string) => own.find(({ kind }) => kind.id === id)?.value ?? null;
  if (typeof of === 'string')
    return { criterion: pack.criterion, end: row.end, required: null, missing: of, statements: [], rates: null };
  const zones = ([1, 2, 3, 'pilot'] as const).flatMap((zone): LoadStatement[] => {
    const reach = valueOf(zone === 'pilot' ? 'pilot' : `z${zone}`);
    if (reach === null) return [];
    const resistance = valueOf(zone === 'pilot' ? 'z2r' : `z${zone}r`) ?? reach;
    const proof = loadProof(
      characteristicOf(
        row.relay?.fn ?? null,
        { reach, resistance, angleDeg: row.lineAngleDeg },
        row.relay?.secondary ?? 1,
      ),
      row.nominalKv,
      of,
    );
    return [
      {
        end: row.end,
        id: `load.${zone}`,
        title: zone === 'pilot' ? 'Overreaching zone lets the load be' : `Zone ${zone} lets the load be`,
        carriesA: proof.loadabilityA,
        requiredA: proof.required.ampere,
        marginPercent: proof.marginPercent,
        holds: proof.holds,
        proof,
      },
    ];
  });
  const { required } = pickupProof(1, of);
  const plain = (id: string, title: string, carriesA: number): LoadStatement => ({
    end: row.end,
    id,
    title,
    carriesA,
    requiredA: required.ampere,
    marginPercent: 100 * (carriesA / required.ampere - 1),
    holds: carriesA > required.ampere,
    proof: null,
  });
  const instant = own.find(({ kind, isUsed }) => kind.id === 'instant' && isUsed)?.value ?? null;
  const input = row.relay?.device.inputs[0]?.rating;
  // Equipment need not carry the margin of the criterion, only what it is a multiple of.
  const thermal = (id: string, title: string, carriesA: number): LoadStatement => ({
    ...plain(id, title, carriesA),
    requiredA: required.ofA,
    marginPercent: 100 * (carriesA / required.ofA - 1),
    holds: carriesA >= required.ofA,
  });
  const isOfRating = required.by !== 'transfer' && required.by !== 'fault';
  return {
    criterion: pack.criterion,
    end: row.end,
    required,
    missing: '',
    statements: [
      ...zones,
      ...(instant !== null ? [plain('load.50', 'Phase overcurrent lets the load be', instant)] : []),
      ...(input && isOfRating
        ? [
            thermal('thermal.ct', 'Current transformer carries it on and on', pack.ctThermal * input.primaryA),
            thermal('thermal.relay', 'Relay carries it on and on', pack.relayThermal * input.primaryA),
          ]
        : []),
    ],
    rates:
      pack.criterion === '12' && end.figures.own.value
        ? ratedByReach(row.nominalKv, magnitude(end.figures.own.value), row.lineAngleDeg, steepestOf(row))
        : null,
  };
}
