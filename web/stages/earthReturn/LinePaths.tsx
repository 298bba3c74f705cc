'use client';

import { useMemo } from 'react';
import { Button, MultiSelect, Select } from '@mantine/core';
import { IconPlus } from '@tabler/icons-react';
import { turnedPath } from '@mesura/core/earthReturn/free';
import { nodesOf, returnsAnything } from '@mesura/core/earthReturn/fromNetwork';
import { laid, wiresOf } from '@mesura/core/earthReturn/path';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { Line } from '@mesura/core/model/branches';
import { usualPath, usualStretch, type ReturnPath } from '@mesura/core/model/earthing';
import type { ElementId } from '@mesura/core/model/fields';
import { find, nameIn, ofKind, type Network } from '@mesura/core/model/network';
import type { ShownUnit } from '../../card/ObjectFields';
import { QuantityField } from '../../card/QuantityField';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { useGoToProblem } from '../../desk/findings';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { ListField } from './ListField';
import { numbersOf, towersText } from './lists';
import { setEarth, useEarthState } from './state';
import { StretchForm } from './StretchForm';
import { useShownUnit } from './units';
import bench from '../../card/bench.module.css';
import card from '../../card/card.module.css';

type PutPath = (path: ReturnPath, what: string) => string | null;

/** What returns current along each line, and its editor. */
export function LinePaths() {
  const network = useProject((state) => state.network);
  const chosen = useEarthState((state) => state.line);
  const goTo = useGoToProblem();
  const lines = ofKind(network, 'line');
  const shownUnit = useShownUnit();
  const columns = useMemo(() => lineColumns(network, shownUnit('km')), [network, shownUnit]);
  const line = lines.find(({ id }) => id === chosen);
  if (lines.length === 0) return <p className={bench.muted}>The network has no line.</p>;
  return (
    <>
      <div className={line ? bench.short : undefined} style={{ overflowX: 'auto' }}>
        <SortTable
          label="Towers and cables"
          columns={columns}
          rows={lines}
          rowId={({ id }) => id}
          current
          chosen={chosen}
          onChoose={({ id }) => {
            goTo({ severity: 'assumed', code: 'earthReturn.line', message: '', element: id });
            setEarth({ view: 'lines', line: id });
          }}
        />
      </div>
      {line && <LinePath key={line.id} line={line} />}
    </>
  );
}

function lineColumns(network: Network, { unit, factor }: ShownUnit): SortColumn<Line>[] {
  const nodes = nodesOf(network);
  const end = (terminal: number) => (line: Line) => nodes.get(`${line.id}:${terminal}`)?.name ?? '';
  const stretches = ({ returnPath }: Line): string =>
    !returnPath
      ? ''
      : returnPath.along
        ? `on the towers of ${nameIn(network, returnPath.along)}`
        : [
            ...new Set(
              returnPath.stretches.map(({ kind, tower, sheath }) =>
                kind === 'cable'
                  ? sheath
                    ? 'cable'
                    : 'cable, no sheath'
                  : (find(network, 'tower', tower)?.name ?? 'towers, nothing on them'),
              ),
            ),
          ].join(', ') + (returnPath.stretches.length > 1 ? `, ${returnPath.stretches.length} stretches` : '');
  return [
    { id: 'line', head: 'Line', text: true, width: 120, value: ({ name }) => name },
    { id: 'from', head: 'First end', text: true, width: 90, value: end(0) },
    { id: 'to', head: 'Second end', text: true, width: 90, value: end(1) },
    { id: 'km', head: unit, digits: 4, value: ({ lengthKm }) => factor * lengthKm },
    {
      id: 'path',
      head: 'Returns along',
      text: true,
      width: 230,
      value: stretches,
      cell: (line) =>
        returnsAnything(line.returnPath) ? stretches(line) : <span className={bench.muted}>nothing given</span>,
    },
  ];
}

function LinePath({ line }: { line: Line }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const path = line.returnPath;
  const put = (next: ReturnPath | undefined, what: string): string | null => {
    const now = find(store.getState().network, 'line', line.id);
    if (!now) return 'the line is not there any more';
    const { returnPath: _, ...rest } = now;
    const element = next ? { ...rest, returnPath: next } : rest;
    const result = store.getState().commit([{ op: 'update', element }], `${line.name}: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  const others = ofKind(network, 'line').filter(
    ({ id, returnPath }) => id !== line.id && returnPath && !returnPath.along,
  );
  const nodes = nodesOf(network);
  return (
    <section aria-label={`Path of ${line.name}`}>
      <div className={bench.head} style={{ marginTop: 12 }}>
        <h3 className={bench.subtitle} style={{ margin: 0 }}>
          {line.name}: {nodes.get(`${line.id}:0`)?.name ?? 'first end'} to{' '}
          {nodes.get(`${line.id}:1`)?.name ?? 'second end'}, {formatNumber(line.lengthKm, 4)} km
        </h3>
        <span className={bench.spacer} />
        {others.length > 0 && (
          <Select
            size="xs"
            classNames={{ label: card.label }}
            w={190}
            aria-label="Take over from"
            placeholder="take over from …"
            value={null}
            data={others.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(next) => {
              const from = others.find(({ id }) => id === next)?.returnPath;
              if (from) put({ ...from, along: null }, `towers as of ${nameIn(network, next as ElementId)}`);
            }}
          />
        )}
        {!path ? (
          <Button
            size="compact-xs"
            variant="light"
            leftSection={<IconPlus size={13} />}
            onClick={() => put(usualPath, 'towers')}
          >
            Towers
          </Button>
        ) : (
          <>
            <Button
              size="compact-xs"
              variant="subtle"
              onClick={() => put(turnedPath(path), 'counted from the other end')}
            >
              Turn round
            </Button>
            <Button size="compact-xs" variant="subtle" color="red" onClick={() => put(undefined, 'towers removed')}>
              Remove
            </Button>
          </>
        )}
      </div>
      {path && (
        <>
          <div className={bench.head} style={{ alignItems: 'flex-end' }}>
            <Select
              size="xs"
              classNames={{ label: card.label }}
              w={210}
              label="Stands on"
              aria-label={`${line.name} stands on`}
              value={path.along ?? ''}
              allowDeselect={false}
              data={[
                { value: '', label: 'towers of its own' },
                ...others.map(({ id, name }) => ({ value: id, label: `the towers of ${name}` })),
              ]}
              onChange={(next) => put({ ...path, along: next ? (next as ElementId) : null }, 'towers')}
            />
            <div style={{ width: 110 }}>
              <QuantityField
                stacked
                label="As circuit"
                unit=""
                value={path.circuit}
                onCommit={(next) =>
                  next !== null && Number.isInteger(next) && next >= 1 && next <= 4
                    ? put({ ...path, circuit: next }, 'circuit')
                    : 'must be 1, 2, 3 or 4'
                }
              />
            </div>
          </div>
          {!path.along && (
            <PathFields
              path={path}
              put={put}
              lengthKm={line.lengthKm}
              ends={[
                nodes.get(`${line.id}:0`)?.name ?? 'the first end',
                nodes.get(`${line.id}:1`)?.name ?? 'the second end',
              ]}
            />
          )}
        </>
      )}
    </section>
  );
}

/** Stretches one after the other, and what is open or insulated. */
export function PathFields({
  path,
  put,
  lengthKm,
  ends,
}: {
  path: ReturnPath;
  put: PutPath;
  lengthKm: number;
  ends: readonly [string, string];
}) {
  const network = useProject((state) => state.network);
  const towerNamed = (id: string | null) => find(network, 'tower', id as ElementId | null);
  const wires = [...new Set([...wiresOf(path, towerNamed), ...path.openFrom, ...path.openTo])];
  const found = laid(path, lengthKm, [path.circuit], towerNamed);
  const towers = found.distancesM.length - 2;
  const isLast = path.stretches.length === 1;
  return (
    <>
      {path.stretches.map((stretch, k) => (
        <StretchForm
          key={k}
          stretch={stretch}
          number={k + 1}
          put={(next, what) =>
            put({ ...path, stretches: path.stretches.map((each, at) => (at === k ? next : each)) }, what)
          }
          remove={
            isLast
              ? null
              : () => put({ ...path, stretches: path.stretches.filter((_, at) => at !== k) }, 'stretch removed')
          }
          up={k === 0 ? null : () => put({ ...path, stretches: moved(path.stretches, k) }, 'order of the stretches')}
        />
      ))}
      <div className={bench.head} style={{ alignItems: 'flex-end', marginTop: 6 }}>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconPlus size={13} />}
          onClick={() =>
            put(
              {
                ...path,
                stretches: [
                  ...path.stretches,
                  { ...(path.stretches.at(-1) ?? usualStretch), lengthKm: null, spansM: null, footingsOhm: null },
                ],
              },
              'stretch added',
            )
          }
        >
          Stretch
        </Button>
        <MultiSelect
          size="xs"
          classNames={{ label: card.label }}
          w={220}
          label={`Open at ${ends[0]}`}
          placeholder={path.openFrom.length > 0 ? undefined : 'none'}
          data={wires}
          value={path.openFrom}
          onChange={(next) => put({ ...path, openFrom: next }, 'open ends')}
        />
        <MultiSelect
          size="xs"
          classNames={{ label: card.label }}
          w={220}
          label={`Open at ${ends[1]}`}
          placeholder={path.openTo.length > 0 ? undefined : 'none'}
          data={wires}
          value={path.openTo}
          onChange={(next) => put({ ...path, openTo: next }, 'open ends')}
        />
        <ListField
          label="Shield wires insulated at towers"
          placeholder="none; 3, 7-9"
          value={towersText(path.insulatedAt)}
          onCommit={(text) => {
            const list = numbersOf(text, { whole: true, ranges: true });
            if (!list.ok) return list.message;
            if (list.values.some((tower) => tower < 1 || tower > Math.max(1, towers)))
              return `there are towers 1 to ${towers}`;
            return put({ ...path, insulatedAt: [...new Set(list.values)].sort((p, q) => p - q) }, 'insulated towers');
          }}
        />
      </div>
      <p className={bench.muted} style={{ margin: '4px 0' }} role="status" aria-label="The path in short">
        {towers} towers and joints over {formatNumber(found.distancesM.at(-1)! / 1000, 4)} km; wires:{' '}
        {[...found.heated.keys()].join(', ') || 'none'}.
        {found.remarks.map((remark) => ` ${remark[0].toUpperCase()}${remark.slice(1)}.`)}
      </p>
    </>
  );
}

function moved<T>(list: readonly T[], k: number): T[] {
  const next = [...list];
  [next[k - 1], next[k]] = [next[k], next[k - 1]];
  return next;
}
