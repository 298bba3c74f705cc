'use client';

import { Checkbox, NumberInput, Select } from '@mantine/core';
import { faultKinds, shortKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import { conditionsOf } from '@mesura/core/model/state';
import { useProject } from '../../project/ProjectContext';
import { setReach, useReachState } from './state';

export function KindField() {
  const { kind } = useReachState();
  return (
    <Select
      size="xs"
      w={120}
      aria-label="Kind of fault"
      allowDeselect={false}
      value={kind}
      data={faultKinds.map((value) => ({ value, label: shortKindTitles[value] }))}
      onChange={(value) => setReach({ kind: value as FaultKind })}
    />
  );
}

/** Resistance of the fault, and whether it burns besides. */
export function ResistanceFields() {
  const { resistance, arc } = useReachState();
  return (
    <>
      <NumberInput
        size="xs"
        w={90}
        aria-label="Resistance of the fault in ohms"
        suffix=" Ω"
        min={0}
        max={500}
        value={resistance}
        onChange={(value) => setReach({ resistance: Number(value) || 0 })}
      />
      <Checkbox
        size="xs"
        label="arc"
        title="An arc by A. R. van C. Warrington’s formula (as remembered) is added, at the current of the solid fault"
        checked={arc}
        onChange={(event) => setReach({ arc: event.currentTarget.checked })}
      />
    </>
  );
}

export function ConditionField({ value, onChange }: { value: string; onChange: (condition: string) => void }) {
  const network = useProject((state) => state.network);
  return (
    <Select
      size="xs"
      w={150}
      aria-label="Condition"
      allowDeselect={false}
      value={value}
      data={conditionsOf(network).map(({ id, name }) => ({ value: id, label: name }))}
      onChange={(next) => onChange(next ?? 'maximum')}
    />
  );
}
