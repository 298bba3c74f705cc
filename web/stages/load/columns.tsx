/** Columns of the load-flow tables; screen, clipboard and file show the same. */
import type { BranchFlow, BusVoltage, EndFlow, SourceFlow } from '@mesura/core/flow/figures';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { LoadLimits } from '@mesura/core/model/element';
import type { SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { heavierEnd, loadingNearness, voltageNearness, type Nearness } from './overlay';

/** What figures are held against. */
export interface Judged {
  readonly limits: LoadLimits;
  readonly emergency: boolean;
  /** Loading in percent of the rated current. */
  readonly allowed: number;
}

const tones = { far: undefined, near: 'warn', beyond: 'fail' } as const;

function toned(value: number | null, nearness: Nearness) {
  if (value === null) return '–';
  const tone = tones[nearness];
  const text = formatNumber(value);
  return tone ? <Chip state={tone}>{text}</Chip> : text;
}

export const busColumns = ({ limits, emergency }: Judged): SortColumn<BusVoltage>[] => [
  { id: 'bus', head: 'Bus', text: true, value: (row) => row.name },
  { id: 'un', head: 'Un kV', value: (row) => row.nominalKv },
  { id: 'u', head: 'U kV', value: (row) => (row.kv === 0 ? null : row.kv) },
  {
    id: 'percent',
    head: '% of Un',
    value: (row) => (row.kv === 0 ? null : row.percent),
    cell: (row) =>
      row.kv === 0 ? 'without supply' : toned(row.percent, voltageNearness(row.percent, limits, emergency)),
  },
  { id: 'angle', head: '°', title: 'Angle in its own phase position', value: (row) => row.angleDeg },
];

export const branchColumns = ({ allowed }: Judged): SortColumn<BranchFlow>[] => [
  { id: 'branch', head: 'Branch', text: true, value: (row) => row.name },
  { id: 'from', head: 'From', text: true, value: (row) => sending(row).at },
  { id: 'mw', head: 'MW', title: 'Into the branch where the active power enters', value: (row) => sending(row).mw },
  { id: 'mvar', head: 'Mvar', value: (row) => sending(row).mvar },
  {
    id: 'ampere',
    head: 'A',
    title: 'At the end with the larger share of its rating',
    value: (row) => heavierEnd(row).ampere,
  },
  {
    id: 'loading',
    head: '% of Ir',
    value: (row) => row.loadingPercent,
    cell: (row) => toned(row.loadingPercent, loadingNearness(row.loadingPercent, allowed)),
  },
  { id: 'loss', head: 'Losses kW', value: (row) => 1000 * row.lossMw },
];

const sending = ({ ends }: BranchFlow): EndFlow => ends.reduce((p, q) => (q.mw > p.mw ? q : p));

const holds = { angleAndVoltage: 'angle and voltage', voltage: 'voltage', power: 'power' } as const;

export const sourceColumns: SortColumn<SourceFlow>[] = [
  { id: 'source', head: 'Source', text: true, value: (row) => row.name },
  { id: 'holds', head: 'Holds', text: true, value: (row) => holds[row.holds] },
  { id: 'mw', head: 'MW', title: 'Given to the network', value: (row) => row.mw },
  { id: 'mvar', head: 'Mvar', value: (row) => row.mvar },
  { id: 'kv', head: 'U kV', value: (row) => row.kv },
  {
    id: 'limit',
    head: 'Limit',
    text: true,
    value: (row) => row.atLimit ?? '',
    cell: (row) => (row.atLimit ? <Chip state="warn">{row.atLimit === 'max' ? 'most Mvar' : 'least Mvar'}</Chip> : ''),
  },
];

export const loadColumns: SortColumn<EndFlow>[] = [
  { id: 'load', head: 'Load', text: true, value: (row) => row.name },
  { id: 'at', head: 'At', text: true, value: (row) => row.at },
  { id: 'mw', head: 'MW', value: (row) => row.mw },
  { id: 'mvar', head: 'Mvar', value: (row) => row.mvar },
  { id: 'ampere', head: 'A', value: (row) => row.ampere },
  { id: 'loading', head: '% of Ir', value: (row) => row.loadingPercent },
];
