'use client';

import { useState, type ReactNode } from 'react';
import { Button, SegmentedControl, TextInput } from '@mantine/core';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { LinePackage } from '@mesura/core/model/linePackage';
import type { PackageElement, Margin } from '@mesura/core/linePackage/elements';
import { withOverride, type PackageAnswer } from '@mesura/core/linePackage/package';
import { isTaken, taken } from '@mesura/core/linePackage/take';
import { figureTitle, figureUnit, fromText } from '@mesura/core/linePackage/words';
import type { PackageFigure } from '@mesura/core/linePackage/figures';
import { isSameEnd } from '@mesura/core/reach/circuits';
import type { LineEnd } from '@mesura/core/reach/seen';
import { QuantityField } from '../../../card/QuantityField';
import { SortTable, type SortColumn } from '../../../card/SortTable';
import { Chip } from '../../../desk/Chip';
import { useDesk } from '../../../desk/deskState';
import { report } from '../../../desk/report';
import { storeOver } from '../../../desk/storeOver';
import { newId } from '../../../project/newId';
import { useProject } from '../../../project/ProjectContext';
import bench from '../../../card/bench.module.css';
import classes from '../../settings/settings.module.css';

const percent = (margin: Margin | null) =>
  margin && (
    <span style={margin.percent < 0 ? { color: 'var(--m-fail)', fontWeight: 600 } : undefined}>
      {margin.percent > 999 ? '> 999' : formatNumber(margin.percent, 3)}
    </span>
  );

const columns: SortColumn<PackageElement>[] = [
  { id: 'code', head: 'Code', text: true, value: ({ kind }) => kind.code },
  {
    id: 'element',
    head: 'Element',
    text: true,
    width: 260,
    value: ({ kind }) => kind.title,
    cell: ({ kind, isUsed, override }) => (
      <>
        {kind.title}{' '}
        {override ? (
          <span className={bench.muted}>by hand</span>
        ) : (
          !isUsed && <span className={bench.muted}>not used</span>
        )}
      </>
    ),
  },
  { id: 'value', head: 'Value', value: ({ value }) => value },
  { id: 'unit', head: '', text: true, value: ({ kind }) => kind.unit },
  { id: 'secondary', head: 'Secondary', value: ({ secondary }) => secondary },
  {
    id: 'sensitivity',
    head: 'Sensitive %',
    title: 'By how much it lies on the side on which it sees what it must',
    value: ({ sensitivity }) => sensitivity?.percent ?? null,
    cell: ({ sensitivity }) => percent(sensitivity) ?? '–',
  },
  {
    id: 'security',
    head: 'Secure %',
    title: 'By how much it lies on the side on which it leaves alone what it must',
    value: ({ security }) => security?.percent ?? null,
    cell: ({ security }) => percent(security) ?? '–',
  },
];

interface Props {
  /** Stands before the choice of the end. */
  lead: ReactNode;
  pack: LinePackage;
  answer: PackageAnswer;
  isCurrent: boolean;
  start: LineEnd;
}

/** What stands at each end, with both margins; one of them opened with its reasons. */
export function ElementsPart({ lead, pack, answer: { basis, result }, isCurrent, start }: Props) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const revision = useProject((state) => state.revision);
  const projectId = useDesk((state) => state.projectId);
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      basis.ends.findIndex(({ row }) => isSameEnd(row.end, start)),
    ),
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const end = basis.ends[at] ?? basis.ends[0];
  const own = result.elements.filter((each) => isSameEnd(each.end, end.row.end));
  const open = own.find(({ kind }) => kind.id === chosen);
  const relay = end.row.relay;
  const canTake = relay !== null && relay.secondary !== null;
  const take = () => {
    const change = taken(end.row, result.elements, newId);
    return change !== null && report(commit([change], `${relay!.device.name}: settings of the package ${pack.name}`));
  };
  return (
    <>
      <div className={bench.head}>
        {lead}
        <SegmentedControl
          size="xs"
          aria-label="End of the line"
          value={String(at)}
          onChange={(next) => setAt(Number(next))}
          data={basis.ends.map(({ row }, k) => ({
            value: String(k),
            label: row.stationName,
          }))}
        />
        <span className={bench.muted}>{relay ? relay.device.name : 'no relay measures here'}</span>
        <span className={bench.spacer} />
        {canTake && (
          <Button
            size="compact-xs"
            disabled={!isCurrent}
            title="Zones, 50, 50N and 67N become settings of the relay; the rest stays in the document"
            onClick={() =>
              void storeOver(
                { projectId, revision },
                {
                  of: `the package ${pack.name}`,
                  stored: `The settings are in ${relay.device.name}`,
                  notStored: 'The settings are not stored',
                },
                take,
              )
            }
          >
            Set {relay.device.name}
          </Button>
        )}
      </div>
      {relay && relay.secondary === null && (
        <p className={bench.muted}>
          {relay.device.name} measures at no voltage transformer: secondary ohms are not known.
        </p>
      )}
      <div className={open ? bench.short : undefined}>
        <SortTable
          label={`Elements at ${end.row.stationName}`}
          columns={columns}
          rows={own}
          rowId={({ kind }) => kind.id}
          current={isCurrent}
          chosen={chosen}
          onChoose={({ kind }) => setChosen(kind.id)}
        />
      </div>
      {open && <ElementCard key={`${at} ${open.kind.id}`} pack={pack} element={open} station={end.row.stationName} />}
    </>
  );

  function ElementCard({
    pack: of,
    element,
    station,
  }: {
    pack: LinePackage;
    element: PackageElement;
    station: string;
  }) {
    const { kind, decided, override, proposed, value, sensitivity, security } = element;
    const [reason, setReason] = useState(override?.reason ?? '');
    const store = (next: number | null): string | null => {
      if (next !== null && next <= 0) return 'must be above 0';
      if (next !== null && reason.trim() === '') return 'Set against a proposal: give the reason first.';
      const changed = withOverride(of, element.end, kind.id, next, reason.trim());
      const word = next === null ? 'as proposed' : `${formatNumber(next, 4)} ${kind.unit}`;
      return report(commit([{ op: 'update', element: changed }], `${of.name}, ${station}: ${kind.title} ${word}`))
        ? null
        : 'not stored';
    };
    return (
      <article className={bench.card} aria-label={`${kind.title} at ${station}`}>
        <div className={bench.cardBody}>
          <div className={bench.head}>
            <h3 className={bench.title}>
              {kind.title}{' '}
              <span className={bench.kind}>
                {kind.code}, {station}
              </span>
            </h3>
            <span className={bench.spacer} />
            {!isTaken(element) && <span className={bench.muted}>stays in the document</span>}
          </div>
          <div className={bench.head}>
            <QuantityField
              compact
              label={kind.title}
              unit={kind.unit}
              value={value === null ? null : Number(value.toPrecision(5))}
              onCommit={(next) => (next === null ? 'a value is needed' : store(next))}
            />
            <TextInput
              size="xs"
              w={260}
              aria-label="Reason"
              placeholder="Reason, when set by hand"
              value={reason}
              onChange={(event) => setReason(event.currentTarget.value)}
            />
            {override && (
              <Button size="compact-xs" variant="light" onClick={() => store(null)}>
                Take {proposed === null ? 'the proposal' : `${formatNumber(proposed, 4)} ${kind.unit}`} again
              </Button>
            )}
          </div>
          <MarginLine word="Sensitive" margin={sensitivity} />
          <MarginLine word="Secure" margin={security} />
          {decided ? (
            <p style={{ margin: '4px 0' }}>
              {decided.by.rule.title}{' '}
              <span className={bench.muted}>
                = {decided.by.rule.formula}. {decided.by.rule.reason}
              </span>
              {decided.by.figures.map((figure) => (
                <FigureLine key={figure.name} figure={figure as PackageFigure} />
              ))}
              {decided.against.map(({ rule, value: wanted }) => (
                <span key={rule.id} className={classes.figure}>
                  not met: {rule.title}, {rule.sense === 'atLeast' ? 'at least' : 'at most'} {formatNumber(wanted, 4)}{' '}
                  {kind.unit}
                </span>
              ))}
            </p>
          ) : (
            <p className={bench.muted}>The rulebook asks nothing that can be computed here.</p>
          )}
        </div>
      </article>
    );
  }

  function MarginLine({ word, margin }: { word: string; margin: Margin | null }) {
    if (!margin) return null;
    const { figure, side, bound } = margin;
    return (
      <p style={{ margin: '4px 0' }}>
        <Chip state={margin.percent < 0 ? 'fail' : 'pass'}>
          {word} {formatNumber(margin.percent, 3)} %
        </Chip>{' '}
        {side} {formatNumber(bound, 4)} {figureUnit(figure.name)}: {figureTitle(figure.name)}{' '}
        <span className={bench.muted}>{fromText(network, figure)}</span>
      </p>
    );
  }

  function FigureLine({ figure }: { figure: PackageFigure }) {
    return (
      <span className={classes.figure} title={figureTitle(figure.name)}>
        {figure.name} = {figure.value ? formatNumber(Math.hypot(figure.value.re, figure.value.im), 4) : '–'}{' '}
        {figureUnit(figure.name)}
        {figure.from !== undefined && `, ${fromText(network, figure)}`}
      </span>
    );
  }
}
