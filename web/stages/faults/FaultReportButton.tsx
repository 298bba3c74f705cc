'use client';

import { useState } from 'react';
import { Button, Checkbox, Modal, MultiSelect } from '@mantine/core';
import { IconFileDownload } from '@tabler/icons-react';
import { faultKinds, faultKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { ofKind } from '@mesura/core/model/network';
import { useShallow } from 'zustand/react/shallow';
import { ReportButtons } from '../../card/ReportButtons';
import { useCondition, useConditions } from '../../desk/condition';
import { useProject } from '../../project/ProjectContext';
import { useFaultsState } from './state';
import bench from '../../card/bench.module.css';

/** Which places, kinds and conditions a report is about; then the report. */
export function FaultReportButton() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        size="compact-xs"
        variant="default"
        leftSection={<IconFileDownload size={13} />}
        onClick={() => setOpen(true)}
      >
        Report
      </Button>
      <Modal opened={open} onClose={() => setOpen(false)} title="Report of fault currents" size="md">
        {open && <Choices />}
      </Modal>
    </>
  );
}

function Choices() {
  const condition = useCondition();
  const all = useConditions();
  const setup = useFaultsState((state) => state.setup);
  const buses = useProject(useShallow((state) => ofKind(state.network, 'bus')));
  const selection = useProject((state) => state.selection);
  const [places, setPlaces] = useState<string[]>(selection.filter((id) => buses.some((bus) => bus.id === id)));
  const [kinds, setKinds] = useState<string[]>([setup.kind]);
  const [conditions, setConditions] = useState<string[]>([condition.id]);
  const [workings, setWorkings] = useState(false);
  const ready = kinds.length > 0 && conditions.length > 0;
  return (
    <>
      <MultiSelect
        label="Places"
        placeholder={places.length === 0 ? 'all buses' : undefined}
        searchable
        value={places}
        data={buses.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={setPlaces}
      />
      <MultiSelect
        mt="xs"
        label="Kinds of fault"
        value={kinds}
        data={faultKinds.map((kind: FaultKind) => ({ value: kind, label: faultKindTitles[kind] }))}
        onChange={setKinds}
      />
      <MultiSelect
        mt="xs"
        label="Conditions"
        value={conditions}
        data={all.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={setConditions}
      />
      <Checkbox
        mt="sm"
        label="with the working of every fault"
        checked={workings}
        onChange={(event) => setWorkings(event.currentTarget.checked)}
      />
      <div className={bench.head} style={{ marginTop: 14 }}>
        <span className={bench.muted}>
          {ready
            ? 'IEC 60909-0; Ib and Ith for the times of the options. From the project as saved.'
            : 'Choose a kind of fault and a condition.'}
        </span>
        <span className={bench.spacer} />
        {ready && (
          <ReportButtons
            label="Make it"
            request={{
              study: 'faults',
              buses: places,
              kinds,
              conditions,
              workings,
              breakingS: setup.breakingS,
              durationS: setup.durationS,
            }}
          />
        )}
      </div>
    </>
  );
}
