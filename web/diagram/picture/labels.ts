/** The second line beside a symbol: what an engineer reads first of its data. */
import type { Drawn } from '@mesura/core/drawing/shape/shapes';
import { formatNumber } from '@mesura/core/fields/quantity';

const power = (mva: number, unit = 'VA') =>
  mva < 1 ? `${formatNumber(mva * 1000, 3)} k${unit}` : `${plain(mva)} M${unit}`;
const plain = (value: number) => String(Number(value.toPrecision(4)));

export function detailOf(element: Drawn): string {
  switch (element.kind) {
    case 'transformer':
      return `${power(element.ratedMva)} ${element.vectorGroup}`;
    case 'threeWindingTransformer':
      return `${power(element.hvMv.ratedMva)} ${element.vectorGroup}`;
    case 'powerStationUnit':
      return power(element.generator.ratedMva);
    case 'seriesReactor':
      return `${plain(element.ratedA)} A ${plain(element.ukPercent)} %`;
    case 'converterSource':
    case 'doublyFedMachine':
    case 'staticDrive':
      return power(element.ratedMva);
    case 'line':
      return `${plain(element.lengthKm)} km${element.circuits > 1 ? ` × ${element.circuits}` : ''}`;
    case 'synchronousMachine':
      return power(element.ratedMva);
    case 'asynchronousMotor':
      return `${element.count > 1 ? `${element.count} × ` : ''}${power(element.ratedMw, 'W')}`;
    case 'load':
      return power(element.ratedMva);
    case 'currentTransformer':
      return `${plain(element.primaryA)}/${plain(element.secondaryA)}`;
    case 'voltageTransformer':
      return `${plain(element.primaryKv)} kV/${plain(element.secondaryV)} V`;
    case 'switch':
      return element.type === 'fuse' && element.ratedA !== null ? `${plain(element.ratedA)} A` : '';
    case 'networkFeeder':
      return element.max.given === 'current' ? `${plain(element.max.ikKa!)} kA` : `${plain(element.max.skMva!)} MVA`;
    default:
      return '';
  }
}
