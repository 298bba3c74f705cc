'use client';

import { memo, useCallback, useState } from 'react';
import { ActionIcon, Button, Select } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { faultKindTitles } from '@mesura/core/faults/kinds';
import type { DecisivePoint } from '@mesura/core/grading/margin';
import type { Proposal } from '@mesura/core/grading/proposal';
import type { ElementId } from '@mesura/core/model/fields';
import type { GradingChart } from '@mesura/core/model/chart';
import { conditionOf } from '@mesura/core/model/state';
import { deviceOf, withFunction, type DeviceElement } from '@mesura/core/protection/device';
import { familyOf } from '@mesura/core/protection/registry';
import { Chip } from '../../desk/Chip';
import { formatCurrent, formatNumber, plainNumber } from '@mesura/core/fields/quantity';
import { QuantityField } from '../../card/QuantityField';
import { useProject } from '../../project/ProjectContext';
import { useStable } from './useStable';
import { shortName, type Edited, type JudgedPair } from '@mesura/core/grading/chart/curves';
import type { GradingPair, Measured } from '@mesura/core/model/chart';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

interface Props {
  chart: GradingChart;
  judged: readonly JudgedPair[];
  /** In the order of the pairs; null where none is needed or none is possible. */
  proposals: readonly (Proposal | null)[];
  shown: JudgedPair | null;
  onShow: (key: string) => void;
  update: (chart: GradingChart, what: string) => void;
  tryOut: (element: DeviceElement) => void;
  edited: Edited;
  /** State of the chart that it is compared with. */
  compared: ElementId | null;
}

const isOf = (
  pair: Pick<GradingPair, 'downstream' | 'upstream'>,
  other: Pick<GradingPair, 'downstream' | 'upstream'>,
) => pair.downstream === other.downstream && pair.upstream === other.upstream;

const modeWords: Readonly<Record<Measured, string>> = { phase: 'phase', earth: '3I0', negative: 'I2' };

const noStates: GradingChart['states'] = [];

/** Pairs with their margins at the decisive current, and what would make a failing one hold. */
export function PairTable({ chart, judged, proposals, shown, onShow, update, tryOut, edited, compared }: Props) {
  const network = useProject((state) => state.network);
  const name = useCallback(
    (id: ElementId) => {
      const device = deviceOf(network, id);
      return device ? shortName(device) : '?';
    },
    [network],
  );
  const conditionName = useCallback((id: ElementId) => conditionOf(network, id)?.name ?? '?', [network]);
  const setWanted = useStable((pair: GradingPair, wantedMarginS: number | null): string | null => {
    if (wantedMarginS !== null && (wantedMarginS < 0 || wantedMarginS > 10)) return 'from 0 to 10 s';
    update(
      { ...chart, pairs: chart.pairs.map((each) => (isOf(each, pair) ? { ...each, wantedMarginS } : each)) },
      'required margin',
    );
    return null;
  });
  const adopt = useStable((proposal: Proposal) => {
    const element = edited.get(proposal.device) ?? deviceOf(network, proposal.device)!.element;
    const fn = element.functions.find((each) => each.id === proposal.functionId)!;
    tryOut(withFunction(element, familyOf(fn).withSetting(fn, proposal.field, proposal.to)));
  });
  const remove = useStable((pair: GradingPair) =>
    update({ ...chart, pairs: chart.pairs.filter((each) => !isOf(each, pair)) }, 'remove a pair'),
  );
  // Proposals come in the order of the pairs as they are without guests.
  const proposalOf = new Map(judged.filter(({ guest }) => guest === null).map((each, k) => [each, proposals[k]]));
  const states = compared === null ? noStates : chart.states;
  const show = useStable(onShow);
  const add = useStable(update);
  return (
    <>
      <table className={`${bench.table} figures`} aria-label="Pairs" style={{ marginTop: 4 }}>
        <thead>
          <tr>
            <th>Pair (downstream → upstream)</th>
            <th className="number">decisive at</th>
            <th className="number">margin</th>
            <th className="number">required</th>
            {states.map(({ id, name: of }) => (
              <th key={id} className="number">
                in {of}
              </th>
            ))}
            <th>verdict</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {judged.map((each) => (
            <PairRow
              key={each.key}
              modeShown={chart.mode === 'both'}
              states={states}
              judged={each}
              proposal={each.margin.verdict === 'short' ? (proposalOf.get(each) ?? null) : null}
              isShown={each === shown}
              name={name}
              conditionName={conditionName}
              onShow={show}
              onWanted={setWanted}
              onAdopt={adopt}
              onRemove={remove}
            />
          ))}
        </tbody>
      </table>
      <AddPair chart={chart} name={name} update={add} />
    </>
  );
}

interface RowProps {
  /** Which quantity it is about is said where a chart shows several. */
  modeShown: boolean;
  /** States whose margins stand beside. */
  states: GradingChart['states'];
  judged: JudgedPair;
  proposal: Proposal | null;
  isShown: boolean;
  name: (id: ElementId) => string;
  conditionName: (id: ElementId) => string;
  onShow: (key: string) => void;
  onWanted: (pair: GradingPair, wantedMarginS: number | null) => string | null;
  onAdopt: (proposal: Proposal) => void;
  onRemove: (pair: GradingPair) => void;
}

/** Drawn again only when its own pair changes: most do not while one curve is dragged. */
const PairRow = memo(function PairRow({
  modeShown,
  states,
  judged,
  proposal,
  isShown,
  name,
  conditionName,
  onShow,
  onWanted,
  onAdopt,
  onRemove,
}: RowProps) {
  const { margin, mode, guest } = judged;
  const { pair, decisive, wantedS } = margin;
  const plain = `${name(pair.downstream)} → ${name(pair.upstream)}`;
  const title = `${plain}${modeShown ? `, ${modeWords[mode]}` : ''}${guest === null ? '' : ` with ${guest}`}`;
  const others = decisive && functionsOfOtherKind(mode, decisive);
  const state =
    decisive &&
    `${faultKindTitles[decisive.kind]}, ${conditionName(decisive.condition)}; ${name(pair.upstream)} sees ${formatCurrent(decisive.upstreamA)}; ${decisive.downstreamBy} trips before ${decisive.upstreamBy}`;
  return (
    <tr
      data-clickable
      data-active={isShown || undefined}
      onClick={() => onShow(judged.key)}
      tabIndex={0}
      onKeyDown={(event) => event.target === event.currentTarget && event.key === 'Enter' && onShow(judged.key)}
    >
      <td>{title}</td>
      <td className="number" title={state ?? undefined}>
        {decisive ? (decisive.downstreamA > 0 ? formatCurrent(decisive.downstreamA) : 'no 3I0') : '–'}
      </td>
      <td className="number">
        <strong>{decisive ? `${decisive.marginS.toFixed(3)} s` : '–'}</strong>
      </td>
      <td className="number" onClick={(event) => event.stopPropagation()} style={{ width: 92 }}>
        {guest === null ? (
          <QuantityField
            compact
            label={`Required margin of ${title}`}
            unit="s"
            value={wantedS}
            optional
            onCommit={(value) => onWanted(pair, value)}
          />
        ) : (
          `${wantedS} s`
        )}
      </td>
      {states.map((state) => {
        const then = state.margins.find((each) => each.mode === mode && isOf(each, pair));
        return (
          <td key={state.id} className="number" data-tone={then && !then.holds ? 'fail' : undefined}>
            {then && guest === null && then.marginS !== null ? `${then.marginS.toFixed(3)} s` : '–'}
          </td>
        );
      })}
      <td style={{ fontFamily: 'var(--mantine-font-family)' }}>
        <Verdict margin={margin} />
        {others && <span className={bench.muted}> {others}</span>}
        {proposal && (
          <>
            {' '}
            <button
              type="button"
              className={classes.proposal}
              onClick={(event) => {
                event.stopPropagation();
                onAdopt(proposal);
              }}
            >
              {proposal.title.toLowerCase()} {plainNumber(proposal.to)} meets the margin
            </button>
          </>
        )}
      </td>
      <td>
        {guest === null && (
          <ActionIcon
            variant="subtle"
            color="gray"
            size={20}
            aria-label={`Remove pair ${title}`}
            onClick={(event) => {
              event.stopPropagation();
              onRemove(pair);
            }}
          >
            <IconTrash size={13} />
          </ActionIcon>
        )}
      </td>
    </tr>
  );
});

/** In an earth fault a phase function may be the one that trips: then the point does not lie on the curve drawn, and that is said. */
function functionsOfOtherKind(mode: Measured, decisive: DecisivePoint): string | null {
  const codes = [decisive.downstreamBy, decisive.upstreamBy].filter(
    (code) => (/^(5[01]|67)[NG]$|^Ig$/.test(code) ? 'earth' : code === '46' ? 'negative' : 'phase') !== mode,
  );
  return codes.length > 0 ? `${[...new Set(codes)].join(' and ')} trip${codes.length === 1 ? 's' : ''} here` : null;
}

export function Verdict({
  margin: { verdict, decisive, energy, wantedS, reason, selectiveUpToA, upstreamFirstBelowA, listedUpToA },
}: {
  margin: JudgedPair['margin'];
}) {
  const note = upstreamFirstBelowA !== null && (
    <span className={bench.muted} title="Below this current only the upstream device picks up.">
      {' '}
      only the upstream device picks up below {formatCurrent(upstreamFirstBelowA, 3)}
    </span>
  );
  if (verdict === 'holds')
    return (
      <>
        <Chip state="pass">OK</Chip>
        {listedUpToA !== null && (
          <span className={bench.muted} title="Tests of these two types together, from the library of the project.">
            {' '}
            listed as selective up to {formatCurrent(listedUpToA, 3)}
          </span>
        )}
        {energy && (
          <span className={bench.muted}>
            {' '}
            by energy: {formatNumber(energy.throughA2s / 1000, 3)} of {formatNumber(energy.meltingA2s / 1000, 3)} kA²s
          </span>
        )}
        {note}
      </>
    );
  if (verdict === 'short')
    return (
      <>
        <Chip state="fail">not met</Chip>{' '}
        {decisive && decisive.marginS < wantedS && `${(wantedS - decisive.marginS).toFixed(3)} s below `}
        {reason}
        {selectiveUpToA !== null &&
          ` selective up to ${formatCurrent(selectiveUpToA, 3)}${listedUpToA === null ? '' : ' as listed'}`}
        {note}
      </>
    );
  return (
    <>
      <Chip state="warn">{{ blind: 'no pickup', noBackup: 'no backup', unknown: 'unknown' }[verdict]}</Chip> {reason}
    </>
  );
}

const AddPair = memo(function AddPair({
  chart,
  name,
  update,
}: {
  chart: GradingChart;
  name: (id: ElementId) => string;
  update: Props['update'];
}) {
  const [downstream, setDownstream] = useState<string | null>(null);
  const [upstream, setUpstream] = useState<string | null>(null);
  const data = chart.relays.map((id) => ({ value: id, label: name(id) }));
  const doubled = chart.pairs.some((pair) => pair.downstream === downstream && pair.upstream === upstream);
  const ready = downstream && upstream && downstream !== upstream && !doubled;
  return (
    <div className={bench.head} style={{ marginTop: 8 }}>
      <span className={bench.muted}>Add a pair:</span>
      <Select
        size="xs"
        w={150}
        placeholder="downstream"
        aria-label="Downstream device"
        data={data}
        value={downstream}
        onChange={setDownstream}
      />
      <span>→</span>
      <Select
        size="xs"
        w={150}
        placeholder="upstream"
        aria-label="Upstream device"
        data={data}
        value={upstream}
        onChange={setUpstream}
      />
      <Button
        size="compact-xs"
        variant="light"
        disabled={!ready}
        onClick={() => {
          update(
            {
              ...chart,
              pairs: [
                ...chart.pairs,
                { downstream: downstream as ElementId, upstream: upstream as ElementId, wantedMarginS: null },
              ],
            },
            'add a pair',
          );
          setDownstream(null);
          setUpstream(null);
        }}
      >
        Add
      </Button>
      {doubled && <span className={bench.muted}>This pair is on the chart already.</span>}
    </div>
  );
});
