'use client';

import { Button, Checkbox, MultiSelect, NumberInput } from '@mantine/core';
import { faultKinds, shortKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { placeIn } from '@mesura/core/faults/names';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Place } from '@mesura/core/faults/solution/solve';
import {
  failing,
  harmOf,
  trialOf,
  type Failing,
  type Search,
  type SearchFault,
  type SearchGroup,
} from '@mesura/core/trials/search';
import { foundTitles } from '@mesura/core/trials/words';
import { SortTable, type SortColumn } from '../../card/SortTable';
import { ReportButtons } from '../../card/ReportButtons';
import { useCondition } from '../../desk/condition';
import { useProject } from '../../project/ProjectContext';
import { draftId, openTrial, setTrials, useTrialsState, type SearchAsked } from './state';
import { useSearch } from './useTrial';
import bench from '../../card/bench.module.css';
import { Done } from '../../workers/Done';

const failingTitles: Readonly<Record<Failing, string>> = {
  breaker: 'each breaker fails',
  device: 'each relay fails',
  battery: 'the battery of each station fails',
  channel: 'each channel fails',
};

/** All faults played, in the worker while one goes on working; what goes wrong by its cause, the worst first. */
export function SearchView() {
  const { search: setup, searching, group: chosen } = useTrialsState();
  const put = (part: Partial<SearchAsked>) => setTrials({ search: { ...setup, ...part }, searching: false });
  const { value, isCurrent, progress, failed } = useSearch();
  const condition = useCondition();
  const { allConditions: _, ...plain } = setup;
  return (
    <>
      <div className={bench.head}>
        <MultiSelect
          size="xs"
          w={230}
          aria-label="Kinds of fault"
          data={faultKinds.map((kind) => ({ value: kind as string, label: shortKindTitles[kind] }))}
          value={[...setup.kinds]}
          onChange={(kinds) => kinds.length > 0 && put({ kinds: kinds as FaultKind[] })}
        />
        <NumberInput
          size="xs"
          w={150}
          aria-label="Places along each line"
          suffix=" places a line"
          min={0}
          max={49}
          value={setup.alongLines}
          onChange={(alongLines) => put({ alongLines: Math.round(Number(alongLines) || 0) })}
        />
        <NumberInput
          size="xs"
          w={84}
          aria-label="Resistance of the fault in ohms"
          suffix=" Ω"
          min={0}
          max={500}
          value={setup.resistance}
          onChange={(resistance) => put({ resistance: Number(resistance) || 0 })}
        />
        <Checkbox
          size="xs"
          label="all conditions"
          checked={setup.allConditions}
          onChange={(event) => put({ allConditions: event.currentTarget.checked })}
        />
        <Checkbox
          size="xs"
          label="each line out in turn"
          checked={setup.lineOutages}
          onChange={(event) => put({ lineOutages: event.currentTarget.checked })}
        />
      </div>
      <div className={bench.head}>
        <MultiSelect
          size="xs"
          style={{ flex: 1, maxWidth: 420 }}
          aria-label="What fails"
          placeholder={setup.failing.length > 0 ? undefined : 'nothing fails'}
          clearable
          data={failing.map((each) => ({ value: each as string, label: failingTitles[each] }))}
          value={[...setup.failing]}
          onChange={(list) => put({ failing: list as Failing[] })}
        />
        {searching && progress !== null ? (
          <>
            <Done of={progress} w={120} label="Playing faults" />
            <Button size="compact-xs" variant="default" onClick={() => setTrials({ searching: false })}>
              Stop
            </Button>
          </>
        ) : (
          <Button size="compact-xs" onClick={() => setTrials({ searching: true, group: null })}>
            Search
          </Button>
        )}
        <ReportButtons request={{ study: 'search', ...plain, conditions: setup.allConditions ? [] : [condition.id] }} />
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!searching ? (
        <p className={bench.muted}>
          Every busbar and line, every kind of fault, one by one; with what fails, once more for each that took part.
          One can go on working meanwhile.
        </p>
      ) : !value ? (
        <p className={bench.muted} role="status">
          Playing faults …
        </p>
      ) : (
        <Found search={value} isCurrent={isCurrent} chosen={chosen} />
      )}
    </>
  );
}

function Found({ search, isCurrent, chosen }: { search: Search; isCurrent: boolean; chosen: string | null }) {
  const network = useProject((state) => state.network);
  const name = (id: ElementId) => nameIn(network, id);
  const names = (ids: readonly ElementId[]) => ids.map(name).join(', ');
  const placeText = (place: Place) => placeIn(network, place);
  const failedIn = ({ failures: { stuck, dead, silent } }: SearchFault) => names([...stuck, ...dead, ...silent]);
  const columns: SortColumn<SearchGroup>[] = [
    { id: 'found', head: 'Found', text: true, value: ({ found }) => foundTitles[found] },
    { id: 'count', head: 'faults', value: ({ faults }) => faults.length, cell: ({ faults }) => faults.length },
    { id: 'failed', head: 'Failed', text: true, width: 120, value: ({ faults }) => failedIn(faults[0]) },
    { id: 'extra', head: 'Opened without need', text: true, width: 150, value: ({ extra }) => names(extra) },
    { id: 'missing', head: 'Not opened', text: true, width: 150, value: ({ missing }) => names(missing) },
    { id: 'place', head: 'Worst at', text: true, width: 150, value: ({ faults }) => placeText(faults[0].place) },
    {
      id: 'harm',
      head: 'harm',
      digits: 3,
      title: 'MVA lost, and ten kA²s in the fault as one MVA',
      value: ({ harm }) => harm,
    },
  ];
  const group = search.groups.find(({ key }) => key === chosen) ?? null;
  const wrong = search.groups.reduce((sum, { faults }) => sum + faults.length, 0);
  return (
    <>
      <p className={bench.muted} role="status">
        {search.played} faults played, {wrong} not as they should be, by {search.groups.length} causes.
      </p>
      {search.problems.map((problem) => (
        <p key={problem} className={bench.muted}>
          {problem}
        </p>
      ))}
      <SortTable
        label="What goes wrong"
        columns={columns}
        rows={search.groups}
        rowId={({ key }) => key}
        current={isCurrent}
        chosen={chosen}
        onChoose={({ key }) => setTrials({ group: key })}
      />
      {group && <Faults group={group} placeText={placeText} />}
    </>
  );
}

/** Below a long list: brought into view when it comes. */
const shown = (node: HTMLElement | null): void => node?.scrollIntoView({ block: 'nearest' });

function Faults({ group, placeText }: { group: SearchGroup; placeText: (place: Place) => string }) {
  const network = useProject((state) => state.network);
  const rows = group.faults.map((fault, k) => ({ fault, key: String(k) }));
  type Row = (typeof rows)[number];
  const columns: SortColumn<Row>[] = [
    { id: 'place', head: 'Place', text: true, value: ({ fault }) => placeText(fault.place) },
    { id: 'kind', head: 'Kind', text: true, value: ({ fault }) => shortKindTitles[fault.kind] },
    {
      id: 'condition',
      head: 'Condition',
      text: true,
      value: ({ fault }) => conditionOf(network, fault.condition)?.name ?? '',
    },
    { id: 'cleared', head: 'cleared s', digits: 3, value: ({ fault }) => fault.clearedS },
    { id: 'within', head: 'within s', digits: 3, value: ({ fault }) => fault.withinS },
    { id: 'lost', head: 'lost MVA', digits: 3, value: ({ fault }) => fault.lostVa / 1e6 },
    { id: 'harm', head: 'harm', digits: 3, value: ({ fault }) => harmOf(fault) },
  ];
  return (
    <>
      <h3 className={bench.subtitle} ref={shown}>
        {foundTitles[group.found]}: {group.faults.length} {group.faults.length === 1 ? 'fault' : 'faults'}, a click
        plays one
      </h3>
      <SortTable
        label="Faults of this cause"
        columns={columns}
        rows={rows}
        rowId={({ key }) => key}
        current
        onChoose={({ fault }) => openTrial(trialOf(fault, draftId, 'Found by search'))}
      />
    </>
  );
}
