'use client';

import { useMemo } from 'react';
import { Button } from '@mantine/core';
import type { Board, Outlet } from '@mesura/core/switchboards/board';
import { ratingText } from '@mesura/core/switchboards/bill';
import type { BoardRating, BoardRow } from '@mesura/core/switchboards/ratings';
import { quantityTitles } from '@mesura/core/reports/boards';
import { entriesFor, entryNamed } from '@mesura/core/equipment/use';
import { formatNumber } from '@mesura/core/fields/quantity';
import { kinds, nameOf, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { libraryKinds, type LibraryKind } from '@mesura/core/model/library';
import { find, nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { Chip } from '../../desk/Chip';
import { useGoToProblem } from '../../desk/findings';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore } from '../../workers/useCore';
import { demandText, rowsOf, TypeCard, TypeTable } from '../equipment/TypeChooser';
import { useEquipmentState } from '../equipment/state';
import { useShared } from '../equipment/useShared';
import { setBoards, useBoardsState } from './state';
import bench from '../../card/bench.module.css';
import classes from './boards.module.css';

const sideTitles: Readonly<Record<Outlet['side'], string>> = {
  in: 'incoming',
  out: 'outgoing',
  coupler: 'coupler',
  measuring: 'measuring',
};
const shortKinds: Partial<Readonly<Record<Element['kind'], string>>> = {
  currentTransformer: 'CT',
  voltageTransformer: 'VT',
  earthingSwitch: 'Earthing',
};

/** Panels side by side over their busbar; a click on a component shows the types that could stand there. */
export function BoardFront({ board, row, isCurrent }: { board: Board; row: BoardRow | null; isCurrent: boolean }) {
  const network = useProject((state) => state.network);
  const goTo = useGoToProblem();
  const { component } = useBoardsState();
  const choose = (id: ElementId) => {
    setBoards({ component: id });
    goTo({ severity: 'assumed', code: 'boards.place', message: '', element: id });
  };
  const chosen = component ? network.elements.get(component) : undefined;
  return (
    <>
      <div className={classes.front} role="group" aria-label={`Front of ${board.name}`}>
        {board.sections.map((section) => (
          <div key={section} className={classes.section}>
            <button
              type="button"
              className={classes.bar}
              data-active={component === section || undefined}
              onClick={() => choose(section)}
            >
              <strong>{nameIn(network, section)}</strong>{' '}
              {ratingText(find(network, 'bus', section)!) || 'ratings not known'}
            </button>
            <div className={classes.panels}>
              {board.outlets
                .filter((outlet) => outlet.section === section)
                .map((outlet) => (
                  <Panel key={`${outlet.section} ${outlet.key}`} outlet={outlet} chosen={component} onChoose={choose} />
                ))}
            </div>
          </div>
        ))}
      </div>
      {row && <Ratings row={row} isCurrent={isCurrent} />}
      {chosen && libraryKinds.some((each) => each === chosen.kind) && <Component key={chosen.id} element={chosen} />}
      {!chosen && (
        <p className={bench.muted} style={{ marginTop: 8 }}>
          Choose a component, or the busbar, to see which types fit there.
        </p>
      )}
    </>
  );
}

function Panel({
  outlet,
  chosen,
  onChoose,
}: {
  outlet: Outlet;
  chosen: ElementId | null;
  onChoose: (id: ElementId) => void;
}) {
  const network = useProject((state) => state.network);
  return (
    <div className={classes.panel} data-side={outlet.side} role="group" aria-label={`Panel ${outlet.title}`}>
      {outlet.components.map((id) => {
        const element = network.elements.get(id);
        if (!element) return null;
        const entry = 'entry' in element && element.entry ? entryNamed(network, element.entry) : undefined;
        return (
          <button
            key={id}
            type="button"
            className={classes.component}
            data-active={chosen === id || undefined}
            title={entry?.title ?? ratingText(element)}
            onClick={() => onChoose(id)}
          >
            <span className={classes.name}>{nameOf(element)}</span>
            <span className={classes.what}>
              {element.kind === 'relay' ? 'relay' : (shortKinds[element.kind] ?? '')}{' '}
              {element.kind === 'relay' ? ratingText(element) : ratingText(element).replace(/^[a-z]+, /, '')}
            </span>
          </button>
        );
      })}
      <div className={classes.foot}>
        <span className={classes.name}>{outlet.title}</span>
        <span className={classes.what}>{sideTitles[outlet.side]}</span>
      </div>
    </div>
  );
}

const ratingFields = { current: 'ratedA', peak: 'peakKa', shortTime: 'shortTimeKa' } as const;

/** What the busbars carry and withstand, beside what they are rated for. */
function Ratings({ row, isCurrent }: { row: BoardRow; isCurrent: boolean }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const take = ({ section, what, next }: BoardRating) => {
    const bus = find(store.getState().network, 'bus', section);
    if (!bus || next === null) return;
    const element = { ...bus, [ratingFields[what]]: next };
    report(
      store
        .getState()
        .commit([{ op: 'update', element }], `${bus.name}: ${quantityTitles[what].toLowerCase()} rated ${next}`),
    );
  };
  return (
    <table
      className={`${bench.table} figures ${isCurrent ? '' : bench.stale}`}
      aria-label="Ratings of the busbars"
      style={{ marginTop: 10 }}
    >
      <thead>
        <tr>
          <th>Busbar</th>
          <th />
          <th className="number">is</th>
          <th className="number">rated</th>
          <th>Condition</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {row.ratings.map((rating) => {
          const { section, what, value, rated, unit, condition, verdict, next } = rating;
          return (
            <tr key={`${section} ${what}`}>
              <td>{nameIn(network, section)}</td>
              <td>{quantityTitles[what]}</td>
              <td className="number">{value === null ? '' : `${formatNumber(value, 4)}\u2009${unit}`}</td>
              <td className="number">{rated === null ? '' : `${formatNumber(rated, 4)}\u2009${unit}`}</td>
              <td>{condition ? conditionOf(network, condition)?.name : ''}</td>
              <td className={bench.whole}>
                <Chip state={verdict === 'holds' ? 'pass' : verdict === 'short' ? 'fail' : 'warn'}>
                  {verdict === 'holds' ? 'holds' : verdict === 'short' ? 'too small' : 'not known'}
                </Chip>{' '}
                {next !== null && (
                  <Button size="compact-xs" variant="subtle" onClick={() => take(rating)}>
                    Take {next} {unit}
                  </Button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Types for a component: those that fit first, the others with what speaks against them. */
function Component({ element }: { element: Element }) {
  const network = useProject((state) => state.network);
  const demands = useCore(`demands ${element.id}`, (service) => service.demands(element.id));
  const shared = useShared();
  const { entry: chosen } = useEquipmentState();
  const kind = element.kind as LibraryKind;
  const rows = useMemo(() => {
    const all = rowsOf(entriesFor(network, kind, shared.entries), demands.value);
    const misfits = ({ fits }: (typeof all)[number]) => fits?.filter((fit) => !fit.fits).length ?? 0;
    // A stable order: within as many misfits as the library has them.
    return all
      .map((each, k) => ({ each, k, bad: misfits(each) }))
      .sort((p, q) => p.bad - q.bad || p.k - q.k)
      .map(({ each }) => each);
  }, [network, kind, shared.entries, demands.value]);
  const row = rows.find(({ entry }) => entry.id === chosen) ?? null;
  const fitting = rows.filter(({ fits }) => fits?.every((fit) => fit.fits)).length;
  return (
    <section aria-label={`Types for ${nameOf(element)}`} style={{ marginTop: 10 }}>
      <h3 className={bench.subtitle}>
        {kinds[element.kind].title} {nameOf(element)}
      </h3>
      <p className={bench.muted} style={{ margin: '2px 0 6px' }}>
        Asked here: {demandText(demands.value)}. {demands.value && `${fitting} of ${rows.length} types fit.`}
      </p>
      {row && <TypeCard row={row} selected={[element]} shared={shared} />}
      <div className={bench.short} style={{ marginTop: 8 }}>
        <TypeTable kind={kind} rows={rows} chosen={chosen} withFit />
      </div>
    </section>
  );
}
