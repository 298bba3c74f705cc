'use client';

import { useState } from 'react';
import { Button, Checkbox, Popover, Select } from '@mantine/core';
import { limitedKinds, linesOf } from '@mesura/core/limits/limits';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import type { GradingChart } from '@mesura/core/model/chart';
import { useProject } from '../../project/ProjectContext';
import { QuantityField } from '../../card/QuantityField';
import { OwnCurves } from './OwnCurves';
import bench from '../../card/bench.module.css';

/** Which lines of what is protected stand on the chart: damage, inrush, start, load. */
interface Props {
  chart: GradingChart;
  update: (chart: GradingChart, what: string) => void;
}

/** The lines are found when they are asked for: the start of a motor is worked out for its line. */
export function LinesMenu(props: Props) {
  const count = props.chart.limits.length + props.chart.own.length;
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <Button size="compact-xs" variant="default">
          Lines{count > 0 ? ` (${count})` : ''}
        </Button>
      </Popover.Target>
      <Popover.Dropdown style={{ maxHeight: 420, overflow: 'auto', width: 330 }}>
        <Lines {...props} />
      </Popover.Dropdown>
    </Popover>
  );
}

function Lines({ chart, update }: Props) {
  const network = useProject((state) => state.network);
  const [added, setAdded] = useState<readonly ElementId[]>([]);
  const all = limitedKinds
    .flatMap((kind) => ofKind(network, kind))
    .filter((element) => linesOf(network, element).length > 0);
  const shown = [...new Set([...chart.limits.map(({ element }) => element), ...added])];
  const has = (id: ElementId, line: string) => chart.limits.some((each) => each.element === id && each.line === line);
  const toggle = (element: ElementId, line: string) =>
    update(
      {
        ...chart,
        limits: has(element, line)
          ? chart.limits.filter((each) => !(each.element === element && each.line === line))
          : [...chart.limits, { element, line }],
      },
      'lines of what is protected',
    );
  return (
    <>
      <Select
        size="xs"
        searchable
        aria-label="Lines of"
        placeholder="Transformer, line, motor, generator or busbar"
        value={null}
        data={all.filter(({ id }) => !shown.includes(id)).map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(id) => id && setAdded([...added, id as ElementId])}
        comboboxProps={{ withinPortal: false }}
      />
      {shown.map((id) => {
        const element = network.elements.get(id);
        if (!element) return null;
        return (
          <fieldset key={id} style={{ border: 'none', padding: 0, margin: '10px 0 0' }}>
            <legend className={bench.muted}>{nameOf(element)}</legend>
            {linesOf(network, element).map(({ line, title, source, mark }) => (
              <Checkbox
                key={line}
                size="xs"
                mt={4}
                label={title}
                description={mark === '' ? source : `${source} (${mark})`}
                checked={has(id, line)}
                onChange={() => toggle(id, line)}
              />
            ))}
          </fieldset>
        );
      })}
      {chart.limits.some(({ line }) => line === 'loadGrown') && (
        <div style={{ width: 150, marginTop: 8 }}>
          <QuantityField
            label="Growth of the load"
            unit="%"
            value={chart.growthPercent}
            onCommit={(value) => {
              if (value === null || value < 0 || value > 500) return 'from 0 to 500 %';
              update({ ...chart, growthPercent: value }, 'growth of the load');
              return null;
            }}
          />
        </div>
      )}
      <OwnCurves chart={chart} update={update} />
    </>
  );
}
