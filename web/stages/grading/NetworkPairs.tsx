'use client';

import { useMemo, useState } from 'react';
import { Button, SegmentedControl, Select, TextInput } from '@mantine/core';
import { faultKindTitles } from '@mesura/core/faults/kinds';
import { judgedKey, shortName } from '@mesura/core/grading/chart/curves';
import { marginWords } from '@mesura/core/grading/network';
import { formatCurrent } from '@mesura/core/fields/quantity';
import type { PairRuling } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import { alternating } from '@mesura/core/model/directPart';
import { settingsOf } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { deviceOf, devicesOf } from '@mesura/core/protection/device';
import { Chip } from '../../desk/Chip';
import { useProject } from '../../project/ProjectContext';
import type { JudgedNetworkPair } from '../../workers/coreService';
import { useCore } from '../../workers/useCore';
import { openChart, setGrading } from './state';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';
import { Percent } from '../../workers/Done';

const shownKinds = ['all', 'failed', 'left out'] as const;
type Shown = (typeof shownKinds)[number];

type Ends = Pick<PairRuling, 'downstream' | 'upstream'>;

const isRuling = (ruling: Ends, pair: Ends) =>
  ruling.downstream === pair.downstream && ruling.upstream === pair.upstream;

/** Who must clear before whom in the whole network, found for every condition; each with its margin, and what was decided by hand. */
export function NetworkPairs() {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const select = useProject((state) => state.select);
  const pairs = useCore('pairs judged', (service, ticket, onProgress) => service.pairsJudged(ticket, onProgress));
  const [shown, setShown] = useState<Shown>('all');
  const [asking, setAsking] = useState<string | null>(null);
  const nameAt = (id: ElementId) => {
    const device = deviceOf(network, id);
    return device ? shortName(device) : '?';
  };
  const settings = settingsOf(network);
  const rule = (ruling: PairRuling | null, pair: Ends) => {
    const rest = settings.pairRulings.filter((each) => !isRuling(each, pair));
    const title = `${nameAt(pair.downstream)} → ${nameAt(pair.upstream)}`;
    commit(
      [{ op: 'update', element: { ...settings, pairRulings: ruling ? [...rest, ruling] : rest } }],
      ruling === null ? `${title} as found` : ruling.graded ? `${title} to be graded` : `${title} left out`,
    );
    setAsking(null);
  };
  const rows = useMemo(
    () =>
      (pairs.value ?? []).filter(({ margin, ruling }) => {
        const isOut = ruling?.graded === false;
        if (shown === 'left out') return isOut;
        return shown === 'all' ? true : !isOut && margin.verdict !== 'holds';
      }),
    [pairs.value, shown],
  );
  if (!pairs.value)
    return (
      <p className={bench.muted}>
        Looking for pairs
        <Percent of={pairs.progress} before=", " /> …
      </p>
    );
  return (
    <>
      <div className={bench.head}>
        <SegmentedControl
          size="xs"
          aria-label="Pairs shown"
          value={shown}
          onChange={(value) => setShown(value as Shown)}
          data={shownKinds.map((value) => ({
            value,
            label: { all: 'All', failed: 'Not OK', 'left out': 'Left out' }[value],
          }))}
        />
        <span className={bench.muted}>
          {rows.length} of {pairs.value.length}
        </span>
      </div>
      <table
        className={`${bench.table} figures ${pairs.isCurrent ? '' : bench.stale}`}
        aria-label="Pairs of the network"
      >
        <thead>
          <tr>
            <th>Pair (downstream → upstream)</th>
            <th>faults</th>
            <th className="number">margin</th>
            <th className="number">required</th>
            <th>verdict</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map((pair) => {
            const key = `${pair.mode} ${pair.downstream} ${pair.upstream}`;
            const title = `${nameAt(pair.downstream)} → ${nameAt(pair.upstream)}`;
            return (
              <PairLine
                key={key}
                title={title}
                pair={pair}
                where={whereOf(network, pair)}
                asking={asking === key}
                onAsk={() => setAsking(asking === key ? null : key)}
                onRule={(ruling) => rule(ruling, pair)}
                onShow={() => {
                  const [chart] = pair.charts;
                  if (chart) {
                    openChart(chart);
                    setGrading({ pair: judgedKey(pair.mode, pair) });
                  }
                  select([pair.downstream, pair.upstream]);
                }}
              />
            );
          })}
        </tbody>
      </table>
      <AddByHand
        devices={devicesOf(alternating(network)).map((device) => ({ value: device.id, label: shortName(device) }))}
        onAdd={(ruling) => rule(ruling, ruling)}
      />
    </>
  );
}

/** Where a margin is decided, and in which conditions the two follow each other. */
function whereOf(
  network: Parameters<typeof conditionOf>[0],
  { margin: { decisive }, conditions }: JudgedNetworkPair,
): string {
  const named = (id: ElementId) => conditionOf(network, id)?.name ?? '?';
  const follows = conditions.length === 0 ? 'asked for by hand' : `follows in ${conditions.map(named).join(', ')}`;
  if (!decisive) return follows;
  return `${faultKindTitles[decisive.kind]} fault, ${named(decisive.condition)}, ${formatCurrent(decisive.downstreamA, 3)} below and ${formatCurrent(decisive.upstreamA, 3)} above; ${follows}`;
}

interface LineProps {
  title: string;
  pair: JudgedNetworkPair;
  where: string;
  asking: boolean;
  onAsk: () => void;
  onRule: (ruling: PairRuling | null) => void;
  onShow: () => void;
}

function PairLine({ title, pair, where, asking, onAsk, onRule, onShow }: LineProps) {
  const { margin, mode, charts, ruling } = pair;
  const isOut = ruling?.graded === false;
  return (
    <>
      <tr
        data-clickable
        tabIndex={0}
        title={where}
        onClick={onShow}
        onKeyDown={(event) => event.target === event.currentTarget && event.key === 'Enter' && onShow()}
      >
        <td>
          {title}
          {charts.length === 0 && (
            <span className={bench.muted} style={{ whiteSpace: 'nowrap' }}>
              {' '}
              no chart
            </span>
          )}
        </td>
        <td>{mode}</td>
        <td className="number">{margin.decisive ? `${margin.decisive.marginS.toFixed(3)} s` : '–'}</td>
        <td className="number">{margin.wantedS} s</td>
        <td style={{ fontFamily: 'var(--mantine-font-family)' }}>
          {isOut ? (
            <>
              <Chip state="warn">left out</Chip> {ruling.reason}
            </>
          ) : (
            <>
              <Chip
                state={
                  margin.verdict === 'holds'
                    ? 'pass'
                    : margin.verdict === 'short' || margin.verdict === 'blind'
                      ? 'fail'
                      : 'warn'
                }
              >
                {
                  { holds: 'OK', short: 'not met', blind: 'no pickup', noBackup: 'no backup', unknown: 'unknown' }[
                    margin.verdict
                  ]
                }
              </Chip>{' '}
              {margin.verdict !== 'holds' && marginWords(margin)}
              {ruling?.graded && <span className={bench.muted}> by hand: {ruling.reason}</span>}
            </>
          )}
        </td>
        <td onClick={(event) => event.stopPropagation()}>
          {ruling ? (
            <Button
              size="compact-xs"
              variant="subtle"
              aria-label={`As found: ${title}, ${mode}`}
              onClick={() => onRule(null)}
            >
              As found
            </Button>
          ) : (
            <Button
              size="compact-xs"
              variant="subtle"
              aria-expanded={asking}
              aria-label={`Leave out ${title}, ${mode}`}
              onClick={onAsk}
            >
              Leave out
            </Button>
          )}
        </td>
      </tr>
      {asking && (
        <tr>
          <td colSpan={6}>
            <Reason
              label={`Why ${title} need not grade`}
              action="Leave out"
              onGiven={(reason) =>
                onRule({ downstream: pair.downstream, upstream: pair.upstream, graded: false, reason })
              }
            />
          </td>
        </tr>
      )}
    </>
  );
}

/** A decision by hand needs its reason. */
function Reason({ label, action, onGiven }: { label: string; action: string; onGiven: (reason: string) => void }) {
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const give = () => {
    if (reason.trim() === '') return setProblem('A reason is needed here.');
    onGiven(reason.trim().slice(0, 300));
    setReason('');
    setProblem(null);
  };
  return (
    <div className={bench.head}>
      <TextInput
        size="xs"
        style={{ flex: 1 }}
        aria-label={label}
        placeholder={`${label} …`}
        value={reason}
        error={problem}
        onChange={(event) => setReason(event.currentTarget.value)}
        onKeyDown={(event) => event.key === 'Enter' && give()}
      />
      <Button size="compact-xs" variant="light" onClick={give}>
        {action}
      </Button>
    </div>
  );
}

/** A pair that is not found from the network and must grade all the same. */
function AddByHand({
  devices,
  onAdd,
}: {
  devices: readonly { value: string; label: string }[];
  onAdd: (ruling: PairRuling) => void;
}) {
  const [ends, setEnds] = useState<{ downstream: string | null; upstream: string | null }>({
    downstream: null,
    upstream: null,
  });
  const { downstream, upstream } = ends;
  const end = (which: 'downstream' | 'upstream') => (
    <Select
      size="xs"
      w={160}
      searchable
      placeholder={which}
      aria-label={`By hand, ${which}`}
      data={[...devices]}
      value={ends[which]}
      onChange={(value) => setEnds({ ...ends, [which]: value })}
    />
  );
  return (
    <div role="group" aria-label="Pair by hand" className={classes.read}>
      <span className={bench.muted}>A pair that is not found:</span>
      {end('downstream')}
      <span>→</span>
      {end('upstream')}
      {downstream && upstream && downstream !== upstream && (
        <Reason
          label="Why they must grade"
          action="Add"
          onGiven={(reason) => {
            onAdd({ downstream: downstream as ElementId, upstream: upstream as ElementId, graded: true, reason });
            setEnds({ downstream: null, upstream: null });
          }}
        />
      )}
      {downstream !== null && downstream === upstream && <span className={bench.muted}>Choose two devices.</span>}
    </div>
  );
}
