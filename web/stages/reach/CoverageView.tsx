'use client';

import { Checkbox } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { faultKinds, shortKindTitles } from '@mesura/core/faults/kinds';
import { formatNumber } from '@mesura/core/fields/quantity';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { stateText } from '@mesura/core/linePackage/words';
import { countsOf, coverages, type Coverage, type Covered } from '@mesura/core/reach/coverage';
import type { ReachRow } from '@mesura/core/reach/plan';
import { useMemo, useState } from 'react';
import { useProject } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { ResistanceFields } from './FaultFields';
import { setReach, useReachState } from './state';
import { keyOfRow } from './ways';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const titles: Readonly<Record<Coverage, string>> = {
  both: 'at once by all relays',
  sequential: 'one relay after the other',
  delayed: 'delayed',
  partly: 'by some relay not at all',
  none: 'not at all',
};
const shortTitles: Readonly<Record<Coverage, string>> = {
  both: 'at once',
  sequential: 'in turn',
  delayed: 'delayed',
  partly: 'partly',
  none: 'not',
};
/** Darker is worse: told apart also without colours, by the share of the strip that is filled. */
const looks: Readonly<Record<Coverage, { readonly fill: string; readonly share: number }>> = {
  both: { fill: 'var(--m-pass)', share: 0.25 },
  sequential: { fill: 'var(--m-accent)', share: 0.45 },
  delayed: { fill: 'var(--m-muted)', share: 0.65 },
  partly: { fill: 'var(--m-fail)', share: 0.85 },
  none: { fill: 'var(--m-fail)', share: 1 },
};
const places = 21;
const rank = (coverage: Coverage) => coverages.indexOf(coverage);

/** Which faults on a line its relays clear, over all conditions: the worst of each place as a strip, and numbers. */
export function CoverageView({ row, rows }: { row: ReachRow; rows: readonly ReachRow[] }) {
  const network = useProject((state) => state.network);
  const { resistance, allLines, neighbours, arc } = useReachState();
  const [looked, setLooked] = useState<string | null>(null);
  const { ref, width } = useElementSize();
  const relays = rows.filter(({ relay, circuit }) => circuit.id === row.circuit.id && relay?.fn);
  const { value, progress } = useCore<readonly Covered[]>(
    allLines || relays.length > 0
      ? `coverage ${allLines ? 'all' : row.circuit.id} ${resistance} ${neighbours} ${arc}`
      : null,
    (service, ticket, onProgress) =>
      service.coverage(allLines ? null : [row.circuit.id], { resistance, places, neighbours, arc }, ticket, onProgress),
  );
  if (!allLines && relays.length === 0)
    return <p className={bench.muted}>No relay at an end of this line has distance protection.</p>;
  const counts = value && countsOf(value);
  const worstAt = (line: string, kind: string, fraction: number): Covered | null =>
    (value ?? [])
      .filter((each) => each.line === line && each.kind === kind && each.fraction === fraction)
      .reduce<Covered | null>((p, q) => (p === null || rank(q.coverage) > rank(p.coverage) ? q : p), null);
  const stateWords = ({ condition, outage }: Covered) => stateText(network, { condition, out: outage });
  const fractions = [...new Set(value?.map(({ fraction }) => fraction) ?? [])].sort((p, q) => p - q);
  const strip = Math.max(width - 96, 200);
  return (
    <div ref={ref}>
      <div className={bench.head}>
        <ResistanceFields />
        <Checkbox
          size="xs"
          label="neighbours out in turn"
          checked={neighbours}
          onChange={(event) => setReach({ neighbours: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label="all lines"
          checked={allLines}
          onChange={(event) => setReach({ allLines: event.currentTarget.checked })}
        />
        <span className={bench.muted}>
          over all conditions
          {!allLines &&
            `; relays at ${relays.length} of ${row.circuit.ends.length} ends: ${relays.map(({ relay }) => relay!.device.name).join(', ')}`}
        </span>
        <Done of={progress} label="Playing faults" />
      </div>
      {!value || !counts ? (
        <p className={bench.muted} role="status">
          Playing faults along the line …
        </p>
      ) : (
        <>
          {allLines && <LinesTable list={value} rows={rows} />}
          {(allLines ? [] : row.circuit.lines).map((line) => (
            <section key={line} aria-label={`Coverage of ${nameOf(network.elements.get(line)!)}`}>
              <h3 className={bench.subtitle}>{nameOf(network.elements.get(line)!)}</h3>
              {faultKinds.map((kind) => (
                <div key={kind} style={{ display: 'flex', alignItems: 'center', gap: 8, marginBottom: 4 }}>
                  <span className={bench.muted} style={{ width: 88 }}>
                    {shortKindTitles[kind]}
                  </span>
                  <svg
                    width={strip}
                    height={22}
                    role="img"
                    aria-label={`${shortKindTitles[kind]} faults along the line`}
                  >
                    {fractions.map((fraction, k) => {
                      const worst = worstAt(line, kind, fraction);
                      if (!worst) return null;
                      const { fill, share } = looks[worst.coverage];
                      const told = `${formatNumber(100 * fraction, 3)} %: ${titles[worst.coverage]}${
                        worst.timeS === null ? '' : `, ${formatNumber(worst.timeS, 3)} s`
                      } (${stateWords(worst)})`;
                      return (
                        <rect
                          key={fraction}
                          x={(k * strip) / fractions.length}
                          y={22 - 22 * share}
                          width={strip / fractions.length - 1}
                          height={22 * share}
                          fill={fill}
                          onPointerEnter={() => setLooked(`${shortKindTitles[kind]}, ${told}`)}
                        >
                          <title>{told}</title>
                        </rect>
                      );
                    })}
                  </svg>
                </div>
              ))}
            </section>
          ))}
          {!allLines && (
            <p className={bench.muted} aria-live="off" style={{ minHeight: 20 }}>
              {looked ?? 'Point at a place: the worst of all conditions is told.'}
            </p>
          )}
          <table className={`${bench.table} figures`} aria-label="Faults by how they are cleared">
            <tbody>
              {coverages.map((each) => (
                <tr key={each}>
                  <td>
                    <svg width={14} height={14} aria-hidden>
                      <rect
                        y={14 - 14 * looks[each].share}
                        width={14}
                        height={14 * looks[each].share}
                        fill={looks[each].fill}
                      />
                    </svg>{' '}
                    {titles[each]}
                  </td>
                  <td className="number">{counts[each]}</td>
                  <td className="number">{formatNumber((100 * counts[each]) / value.length, 3)} %</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

interface LineCounts {
  readonly line: ElementId;
  readonly name: string;
  readonly counts: Readonly<Record<Coverage, number>>;
  readonly slowestS: number | null;
}

/** Each line with how many of its faults are cleared how; a click looks at the line. */
function LinesTable({ list, rows }: { list: readonly Covered[]; rows: readonly ReachRow[] }) {
  const network = useProject((state) => state.network);
  const lines = useMemo(() => {
    const byLine = new Map<ElementId, Covered[]>();
    for (const each of list) byLine.set(each.line, [...(byLine.get(each.line) ?? []), each]);
    return [...byLine].map(([line, own]): LineCounts => {
      const times = own.flatMap(({ timeS }) => timeS ?? []);
      return {
        line,
        name: nameOf(network.elements.get(line)!),
        counts: countsOf(own),
        slowestS: times.length > 0 ? Math.max(...times) : null,
      };
    });
  }, [list, network]);
  const columns: SortColumn<LineCounts>[] = [
    { id: 'line', head: 'Line', text: true, value: ({ name }) => name },
    ...coverages.map((each): SortColumn<LineCounts> => ({
      id: each,
      head: shortTitles[each],
      title: titles[each],
      value: ({ counts }) => counts[each],
      cell: ({ counts }) => counts[each],
    })),
    { id: 'slowest', head: 'slowest s', digits: 3, value: ({ slowestS }) => slowestS },
  ];
  return (
    <SortTable
      label="Coverage of all lines"
      columns={columns}
      rows={lines}
      rowId={({ line }) => line}
      current
      onChoose={({ line }) => {
        const row = rows.find(({ circuit, relay }) => circuit.lines.includes(line) && relay?.fn);
        if (row) setReach({ end: keyOfRow(row), allLines: false });
      }}
    />
  );
}
