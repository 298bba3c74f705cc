'use client';

import { Button } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { ElementId } from '@mesura/core/model/fields';
import { find, nameIn } from '@mesura/core/model/network';
import type { Relay } from '@mesura/core/model/protection';
import type { DifferentialRow } from '@mesura/core/differential/summary';
import type { EndCandidate } from '@mesura/core/differential/region';
import { deviceOf, withFunction } from '@mesura/core/protection/device';
import { freshDifferential } from '@mesura/core/protection/differential/index';
import type { DifferentialFunction, DifferentialSide } from '@mesura/core/protection/differential/schema';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import type { EndsAnswer } from '../../workers/coreService';
import bench from '../../card/bench.module.css';

/** What a function compares: its sides, whether they fit the network, and for a line the relays at its other ends. */
export function EndsView({ row }: { row: DifferentialRow }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const select = useProject((state) => state.select);
  const { value } = useCore<EndsAnswer | null>(`differential ends ${row.device} ${row.fn}`, (service) =>
    service.differentialEnds(row.device, row.fn),
  );
  const device = deviceOf(network, row.device);
  const fn = device?.functions.find(
    (each): each is DifferentialFunction => each.id === row.fn && each.family === 'differential',
  );
  if (!device || !fn) return null;
  const name = (id: ElementId) => nameIn(network, id);
  const fits = value ? JSON.stringify(value.fitted.sides) === JSON.stringify(fn.sides) : true;
  const inputText = ({ input }: DifferentialSide) => {
    const at = device.inputs.find(({ id }) => id === input);
    if (!at) return 'gone';
    const from = at.from ? `, sent by ${name(at.from)}` : '';
    return `${name(at.through)}${at.star ? `, ${at.star.of === 'neutral' ? 'in its neutral' : 'through its windings'}` : ''}${from}`;
  };
  const columns: SortColumn<DifferentialSide>[] = [
    { id: 'at', head: 'Measured at', text: true, value: inputText },
    {
      id: 'ratio',
      head: 'ratio',
      text: true,
      value: ({ input }) => {
        const rating = device.inputs.find(({ id }) => id === input)?.rating;
        return rating ? `${rating.primaryA}/${rating.secondaryA} A` : '';
      },
    },
    { id: 'base', head: 'base A', digits: 5, value: ({ baseA }) => baseA },
    {
      id: 'match',
      head: 'matching',
      title: 'Rated primary current over the base current',
      digits: 4,
      value: ({ input, baseA }) => {
        const rating = device.inputs.find(({ id }) => id === input)?.rating;
        return rating ? rating.primaryA / baseA : null;
      },
    },
    { id: 'turned', head: 'turned', text: true, value: ({ clock }) => `${30 * clock}°` },
    { id: 'zero', head: 'zero sequence', text: true, value: ({ zero }) => (zero === 'removed' ? 'taken out' : 'kept') },
  ];
  const fit = () =>
    value &&
    report(
      commit(
        [{ op: 'update', element: withFunction(device.element, value.fitted) }],
        `${device.name}, ${row.code}: fitted to the network`,
      ),
    );
  /** Both relays name each other; one without the function gets it. */
  const link = (candidate: EndCandidate) => {
    const other = find(network, 'relay', candidate.relay);
    if (!other || device.element.kind !== 'relay') return;
    const own = withFunction<Relay>(device.element, { ...fn, partners: [...new Set([...fn.partners, other.id])] });
    const there = other.functions.find(
      (each): each is DifferentialFunction => each.family === 'differential' && each.code === '87L',
    );
    const input = other.inputs.find(({ element }) => element === candidate.through)!.id;
    const made = there ?? {
      ...freshDifferential(newId(), '87L', input),
      pickup: fn.pickup,
      slope1Percent: fn.slope1Percent,
      knee: fn.knee,
      slope2Percent: fn.slope2Percent,
      restraint: fn.restraint,
    };
    const changed = { ...made, partners: [...new Set([...made.partners, device.id])] };
    const functions = there
      ? other.functions.map((each) => (each.id === there.id ? changed : each))
      : [...other.functions, changed];
    report(
      commit(
        [
          { op: 'update', element: own },
          { op: 'update', element: { ...other, functions } },
        ],
        `${device.name} and ${other.name} compare their currents`,
      ),
    );
  };
  const candidateColumns: SortColumn<EndCandidate>[] = [
    { id: 'relay', head: 'Relay', text: true, value: ({ relay }) => name(relay) },
    { id: 'ct', head: 'Measures at', text: true, value: ({ through }) => name(through) },
    { id: 'steps', head: 'elements between', value: ({ steps }) => steps, cell: ({ steps }) => steps },
    { id: 'km', head: 'km', digits: 4, value: ({ km }) => km },
    {
      id: 'facing',
      head: 'Polarity',
      text: true,
      value: ({ facing }) => (facing ? 'faces' : 'looks away'),
      cell: ({ facing }) => <Chip state={facing ? 'pass' : 'fail'}>{facing ? 'faces this end' : 'looks away'}</Chip>,
    },
    {
      id: 'link',
      head: '',
      value: () => '',
      cell: (candidate) =>
        fn.partners.includes(candidate.relay) ? (
          'linked'
        ) : (
          <Button size="compact-xs" variant="default" onClick={() => link(candidate)}>
            Link
          </Button>
        ),
    },
  ];
  return (
    <>
      <div className={bench.head}>
        <h3 className={bench.subtitle}>Sides</h3>
        <span className={bench.spacer} />
        {!fits && (
          <Button size="compact-xs" variant="light" onClick={fit}>
            Fit to the network
          </Button>
        )}
      </div>
      <SortTable label="Sides" columns={columns} rows={fn.sides} rowId={({ input }) => input} current />
      {!fits && (
        <p className={bench.muted}>
          <Chip state="warn">differs</Chip> Base currents, turns or inputs are not those of the network: rated power and
          voltages, vector group, current transformers.
        </p>
      )}
      {fn.code === '87L' && value && (
        <>
          <h3 className={bench.subtitle}>Other ends</h3>
          {value.candidates.length === 0 ? (
            <p className={bench.muted}>No other relay measures at this line before a transformer.</p>
          ) : (
            <SortTable
              label="Relays that could be the other end"
              columns={candidateColumns}
              rows={value.candidates}
              rowId={({ relay, through }) => `${relay} ${through}`}
              current
              onChoose={({ relay, through }) => select([relay, through])}
            />
          )}
          <p className={bench.muted}>
            The nearest first. Each relay sends what it measures; when a channel fails, both are blocked, as the search
            for failures shows. Base current {formatNumber(fn.sides[0]?.baseA ?? 0, 4)} A on all ends.
          </p>
        </>
      )}
    </>
  );
}
