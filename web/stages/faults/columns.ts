/** Columns of the fault table by method; the table on screen, the clipboard and the file show the same. */
import type { FaultRow } from '@mesura/core/studies/engine';
import type { FaultSetup } from './state';

export interface FigureColumn {
  readonly id: string;
  readonly head: string;
  readonly title?: string;
  /** In the unit of the head; null where there is none. */
  value(row: FaultRow): number | null;
  readonly digits?: number;
}

const kilo = (amperes: number | null | undefined): number | null => (amperes == null ? null : amperes / 1000);

/** What has died away is nought. */
const settled = (value: number | null): number | null => (value !== null && value < 1e-5 ? 0 : value);

export function figureColumns(setup: FaultSetup): FigureColumn[] {
  const { method, kind, durations } = setup;
  if (method === 'c37')
    return [
      { id: 'ik', head: 'Isym kA', title: 'First-cycle symmetrical current', value: (row) => kilo(row.result?.ikA) },
      {
        id: 'xr',
        head: 'X/R',
        title: 'From the separate X and R networks',
        value: (row) => row.result?.xOverR ?? null,
        digits: 3,
      },
      {
        id: 'asym',
        head: 'Iasym kA',
        title: 'Total rms after half a cycle',
        value: (row) => kilo(row.result?.c37?.firstCycle.asymmetricalA),
      },
      { id: 'ip', head: 'Ipeak kA', title: 'Close-and-latch peak', value: (row) => kilo(row.result?.ipA) },
      {
        id: 'mf',
        head: 'MF',
        title: 'Multiplying factor at contact parting',
        value: (row) => row.result?.c37?.interrupting.factor ?? null,
        digits: 4,
      },
      {
        id: 'duty',
        head: 'Iint kA',
        title: 'Interrupting duty against the symmetrical rating',
        value: (row) => kilo(row.result?.c37?.interrupting.dutyA),
      },
      {
        id: 'thirty',
        head: 'I30 kA',
        title: '30-cycle current',
        value: (row) => kilo(row.result?.c37?.thirtyCycle.symmetricalA),
      },
    ];
  const earth: FigureColumn = { id: 'earth', head: '3I0 kA', value: (row) => kilo(row.result?.earthA) };
  const power: FigureColumn = {
    id: 'sk',
    head: method === 'iec60909' ? 'Sk″ MVA' : 'S MVA',
    value: (row) => (row.result?.powerVa == null ? null : row.result.powerVa / 1e6),
  };
  const first: FigureColumn[] = [
    { id: 'ik', head: method === 'iec60909' ? 'Ik″ kA' : 'I kA', value: (row) => kilo(row.result?.ikA) },
  ];
  if (method === 'superposition') return [...first, kind === '3ph' ? power : earth];
  const peak: FigureColumn[] = [{ id: 'ip', head: 'ip kA', value: (row) => kilo(row.result?.ipA) }];
  if (durations)
    return [
      ...first,
      ...peak,
      { id: 'ib', head: 'Ib kA', title: 'Symmetrical breaking current', value: (row) => kilo(row.result?.ibA) },
      {
        id: 'idc',
        head: 'idc kA',
        title: 'D.c. component at the minimum time delay',
        value: (row) => settled(kilo(row.result?.idcA)),
      },
      { id: 'steady', head: 'Ik kA', title: 'Steady current', value: (row) => kilo(row.result?.steady?.maxA) },
      { id: 'ith', head: 'Ith kA', title: 'Thermal equivalent current', value: (row) => kilo(row.result?.ithA) },
    ];
  return [
    ...first,
    ...peak,
    ...(kind === '3ph' ? [] : [earth]),
    { id: 'xr', head: 'X/R', value: (row) => row.result?.xOverR ?? null, digits: 3 },
    ...(kind === '3ph' ? [power] : []),
  ];
}
