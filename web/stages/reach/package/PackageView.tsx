'use client';

import { useState } from 'react';
import { Button, SegmentedControl, Select, Tooltip } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import {
  lineSchemes,
  loadCriteria,
  newLinePackage,
  type LinePackage,
  type LineScheme,
  type LoadCriterion,
} from '@mesura/core/model/linePackage';
import { find, ofKind } from '@mesura/core/model/network';
import { criterionTitles } from '@mesura/core/linePackage/loading';
import type { PackageAnswer } from '@mesura/core/linePackage/package';
import { schemeNotes, schemeTitles } from '@mesura/core/linePackage/words';
import type { ReachRow } from '@mesura/core/reach/plan';
import { ReportButtons } from '../../../card/ReportButtons';
import { QuantityField } from '../../../card/QuantityField';
import { Chip } from '../../../desk/Chip';
import { report } from '../../../desk/report';
import { newId } from '../../../project/newId';
import { useProject } from '../../../project/ProjectContext';
import { useCore } from '../../../workers/useCore';
import { ElementsPart } from './ElementsPart';
import { LoadPart } from './LoadPart';
import { StatementsPart } from './StatementsPart';
import bench from '../../../card/bench.module.css';
import { Done } from '../../../workers/Done';

const parts = { elements: 'Elements', load: 'Loadability', statements: 'Statements' } as const;
type Part = keyof typeof parts;

/** The protection of one line: scheme, elements with both margins, loadability, statements that somebody agrees to, documents. */
export function PackageView({ row }: { row: ReachRow }) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const pack = ofKind(network, 'linePackage').find(({ line }) => row.circuit.lines.includes(line));
  if (pack) return <OfPackage key={pack.id} pack={pack} row={row} />;
  const line = find(network, 'line', row.end.line)!;
  const begin = () => {
    const name = `${line.name}, ${row.nominalKv} kV`.slice(0, 80);
    report(commit([{ op: 'add', element: newLinePackage(newId(), name, line.id) }], `Line package ${line.name}`));
  };
  return (
    <div>
      <p className={bench.muted}>
        Nothing is kept yet for {row.circuit.lines.map((id) => nameOf(network.elements.get(id)!)).join(' – ')}. A
        package makes the fault runs of both ends by itself and proposes what stands beside the zones.
      </p>
      <Button size="compact-sm" onClick={begin}>
        Begin the package of {line.name}
      </Button>
    </div>
  );
}

/** What a criterion asks for that the network does not know. */
const asked: Partial<
  Readonly<
    Record<
      LoadCriterion,
      {
        readonly field: 'fifteenMinuteA' | 'largestFlowA' | 'generationMva' | 'practicalLimitA';
        readonly title: string;
        readonly unit: string;
      }
    >
  >
> = {
  '2': { field: 'fifteenMinuteA', title: 'Rating for 15 minutes', unit: 'A' },
  '6': { field: 'generationMva', title: 'Generation behind the line', unit: 'MVA' },
  '7': { field: 'largestFlowA', title: 'Largest flow', unit: 'A' },
  '8': { field: 'largestFlowA', title: 'Largest flow', unit: 'A' },
  '9': { field: 'largestFlowA', title: 'Largest flow', unit: 'A' },
  '13': { field: 'practicalLimitA', title: 'Practical limit', unit: 'A' },
};

function OfPackage({ pack, row }: { pack: LinePackage; row: ReachRow }) {
  const commit = useProject((state) => state.commit);
  const [part, setPart] = useState<Part>('elements');
  const { value, isCurrent, failed, progress } = useCore<PackageAnswer>(
    `package ${JSON.stringify(pack)}`,
    (service, ticket, onProgress) => service.linePackage(pack, ticket, onProgress),
  );
  const put = (over: Partial<LinePackage>, label: string) =>
    report(commit([{ op: 'update', element: { ...pack, ...over } }], `${pack.name}: ${label}`));
  const more = asked[pack.criterion];
  const statements = value?.result.statements ?? [];
  const short = statements.filter(({ holds }) => !holds).length;
  const moved = statements.filter(({ state }) => state === 'moved').length + (value?.result.gone.length ?? 0);
  const lead = (
    <>
      <SegmentedControl
        size="xs"
        aria-label="Part of the package"
        value={part}
        onChange={(next) => setPart(next as Part)}
        data={Object.entries(parts).map(([each, label]) => ({ value: each, label }))}
      />
      {short > 0 && <Chip state="fail">{short} not met</Chip>}
      {moved > 0 && <Chip state="warn">{moved} open again</Chip>}
      <Done of={progress} label="Running faults" />
    </>
  );
  return (
    <section aria-label={`Line package ${pack.name}`}>
      <div className={bench.head}>
        <Select
          size="xs"
          w={180}
          aria-label="Scheme"
          allowDeselect={false}
          value={pack.scheme}
          data={lineSchemes.map((each) => ({ value: each, label: schemeTitles[each] }))}
          onChange={(next) => put({ scheme: next as LineScheme }, `scheme ${schemeTitles[next as LineScheme]}`)}
        />
        <Select
          size="xs"
          w={250}
          aria-label="Loadability by criterion"
          allowDeselect={false}
          value={pack.criterion}
          data={loadCriteria.map((each) => ({ value: each, label: `${each}: ${criterionTitles[each]}` }))}
          onChange={(next) => put({ criterion: next as LoadCriterion }, `criterion ${next}`)}
        />
        {more && (
          <QuantityField
            compact
            optional
            label={more.title}
            unit={more.unit}
            value={pack[more.field]}
            placeholder={more.title}
            onCommit={(next) => (put({ [more.field]: next }, more.title.toLowerCase()) ? null : 'not stored')}
          />
        )}
        <span className={bench.spacer} />
        <ReportButtons request={{ study: 'linePackage', package: pack.id }} label="Document" />
        <Tooltip label="Delete the package; settings of relays stay">
          <Button
            size="compact-xs"
            variant="subtle"
            color="gray"
            aria-label={`Delete the package ${pack.name}`}
            onClick={() => report(commit([{ op: 'remove', id: pack.id as ElementId }], `Delete ${pack.name}`))}
          >
            <IconTrash size={15} />
          </Button>
        </Tooltip>
      </div>
      {failed && <p className={bench.problem}>{failed}</p>}
      {!value ? (
        <>
          <div className={bench.head}>{lead}</div>
          <p className={bench.muted} role="status">
            Running the faults of both ends …
          </p>
        </>
      ) : value.basis.ends.length === 0 ? (
        <p className={bench.muted}>This line ends at no station and at no relay.</p>
      ) : part === 'elements' ? (
        <ElementsPart lead={lead} pack={pack} answer={value} isCurrent={isCurrent} start={row.end} />
      ) : part === 'load' ? (
        <LoadPart lead={lead} answer={value} />
      ) : (
        <StatementsPart lead={lead} pack={pack} answer={value} isCurrent={isCurrent} />
      )}
      {value && (
        <p className={bench.muted} role="status" style={{ marginTop: 8 }}>
          {schemeNotes[pack.scheme]} {value.basis.ends.reduce((sum, { runCount }) => sum + runCount, 0)} fault runs,{' '}
          {statements.length} statements.
        </p>
      )}
    </section>
  );
}
