'use client';

import { Select, Switch } from '@mantine/core';
import { breakerClasses } from '@mesura/core/faults/c37/factors';
import { methods, methodTitles, type Method, type PlaceQuery } from '@mesura/core/studies/engine';
import { peakMethods, peakMethodTitles, type PeakMethod } from '@mesura/core/faults/iec60909/peak';
import { phasesTitle, type Phase } from '@mesura/core/faults/kinds';
import { outageKinds } from '@mesura/core/model/condition';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import { kinds, nameOf } from '@mesura/core/model/element';
import { outOfBounds, QuantityField } from '../../card/QuantityField';
import { setFaults, useFaultsState, type FaultSetup } from './state';
import { useProject } from '../../project/ProjectContext';
import classes from './faults.module.css';

export function MethodSelect() {
  const setup = useFaultsState((state) => state.setup);
  const change = useSetupChange();
  return (
    <Select
      aria-label="Method"
      size="xs"
      w={126}
      allowDeselect={false}
      data={methods.map((value) => ({ value, label: methodTitles[value] }))}
      value={setup.method}
      onChange={(method) =>
        // The duties of C37 know no two-phase fault to earth.
        change({
          method: method as Method,
          ...(method === 'c37' && setup.kind === '2phE' && { kind: '1ph' as const }),
        })
      }
    />
  );
}

export function useSetupChange(): (part: Partial<FaultSetup>) => void {
  return (part) => {
    setFaults({ setup: { ...useFaultsState.getState().setup, ...part } });
  };
}

/** Everything beyond method and kind: phases, impedances of the fault, outage, place on a line, options of the method. */
export function SetupPanel() {
  const setup = useFaultsState((state) => state.setup);
  const change = useSetupChange();
  const { method, kind } = setup;
  const solid = method !== 'c37';
  return (
    <div className={classes.setup} role="group" aria-label="Options of the fault">
      {kind !== '3ph' && solid && (
        <Select
          label="Phases"
          size="xs"
          allowDeselect={false}
          data={([0, 1, 2] as const).map((odd) => ({ value: String(odd), label: phasesTitle({ kind, odd }) }))}
          value={String(setup.odd)}
          onChange={(odd) => change({ odd: Number(odd) as Phase })}
        />
      )}
      {solid && (
        <>
          <Ohms label="Phase fault resistance" value={setup.phaseR} onChange={(phaseR) => change({ phaseR })} />
          <Ohms label="Phase fault reactance" value={setup.phaseX} signed onChange={(phaseX) => change({ phaseX })} />
          {(kind === '1ph' || kind === '2phE') && (
            <>
              <Ohms label="R to earth" value={setup.earthR} onChange={(earthR) => change({ earthR })} />
              <Ohms label="X to earth" value={setup.earthX} signed onChange={(earthX) => change({ earthX })} />
            </>
          )}
        </>
      )}
      <OutageSelect />
      {solid && <LinePlace />}
      {method === 'iec60909' && <IecOptions />}
      {method === 'c37' && <C37Options />}
    </div>
  );
}

function IecOptions() {
  const setup = useFaultsState((state) => state.setup);
  const change = useSetupChange();
  return (
    <>
      <Select
        label="Method for κ"
        size="xs"
        allowDeselect={false}
        data={peakMethods.map((value) => ({ value, label: peakMethodTitles[value] }))}
        value={setup.peak}
        onChange={(peak) => change({ peak: peak as PeakMethod })}
      />
      <Select
        label="Line capacitances"
        size="xs"
        allowDeselect={false}
        data={[
          { value: 'auto', label: 'where isolated or resonant-earthed' },
          { value: 'always', label: 'always' },
          { value: 'never', label: 'never' },
        ]}
        value={setup.charging}
        onChange={(charging) => change({ charging: charging as FaultSetup['charging'] })}
      />
      <Switch
        label="Show Ib, idc, Ik, Ith"
        size="xs"
        mt={22}
        checked={setup.durations}
        onChange={(event) => change({ durations: event.currentTarget.checked })}
      />
      {setup.durations && (
        <>
          <Bounded
            label="Minimum time delay"
            unit="s"
            bounds={{ min: 0.01, max: 10 }}
            value={setup.breakingS}
            onChange={(breakingS) => change({ breakingS })}
          />
          <Bounded
            label="Duration of the fault"
            unit="s"
            bounds={{ min: 0.01, max: 100 }}
            value={setup.durationS}
            onChange={(durationS) => change({ durationS })}
          />
        </>
      )}
    </>
  );
}

function C37Options() {
  const setup = useFaultsState((state) => state.setup);
  const change = useSetupChange();
  return (
    <>
      <Select
        label="Breaker"
        size="xs"
        allowDeselect={false}
        data={breakerClasses.map(({ ratedCycles, partingCycles, s }) => ({
          value: String(partingCycles),
          label: `${ratedCycles} cycles, S ${s.toFixed(1)}`,
        }))}
        value={String(setup.partingCycles)}
        onChange={(value) => {
          const breaker = breakerClasses.find(({ partingCycles }) => String(partingCycles) === value);
          if (breaker) change({ partingCycles: breaker.partingCycles, s: breaker.s });
        }}
      />
      <Select
        label="Symmetrical current"
        size="xs"
        allowDeselect={false}
        data={['E/X', 'E/Z']}
        value={setup.current}
        onChange={(current) => change({ current: current as FaultSetup['current'] })}
      />
      <Bounded
        label="Voltage before"
        unit="%"
        bounds={{ min: 50, max: 150 }}
        value={setup.prefaultPercent}
        onChange={(prefaultPercent) => change({ prefaultPercent })}
      />
    </>
  );
}

function Ohms({
  label,
  value,
  signed = false,
  onChange,
}: {
  label: string;
  value: number;
  signed?: boolean;
  onChange: (value: number) => void;
}) {
  return <Bounded label={label} unit="Ω" bounds={signed ? {} : { min: 0 }} value={value} onChange={onChange} />;
}

/** A field that takes a value only within its bounds, and says so otherwise. */
function Bounded({
  label,
  unit,
  bounds,
  value,
  onChange,
}: {
  label: string;
  unit: string;
  bounds: { min?: number; max?: number };
  value: number;
  onChange: (value: number) => void;
}) {
  return (
    <QuantityField
      stacked
      label={label}
      unit={unit}
      value={value}
      onCommit={(typed) => {
        const wrong = outOfBounds(typed, bounds, unit);
        if (wrong === null && typed !== null) onChange(typed);
        return wrong;
      }}
    />
  );
}

/** Loads and shunts have no part in fault currents. */
const switchable = new Set<string>(outageKinds.filter((kind) => kind !== 'load' && kind !== 'shunt'));

function OutageSelect() {
  const network = useProject((state) => state.network);
  const outage = useFaultsState((state) => state.setup.outage);
  const change = useSetupChange();
  const byKind = new Map<string, { value: string; label: string }[]>();
  for (const element of network.elements.values()) {
    if (!switchable.has(element.kind)) continue;
    const { title } = kinds[element.kind];
    byKind.set(title, [...(byKind.get(title) ?? []), { value: element.id, label: nameOf(element) }]);
  }
  const known = outage !== null && network.elements.has(outage);
  return (
    <Select
      label="Out of service"
      size="xs"
      searchable
      clearable
      placeholder="nothing"
      data={[...byKind].map(([group, items]) => ({ group, items }))}
      value={known ? outage : null}
      onChange={(id) => change({ outage: id as ElementId | null })}
    />
  );
}

/** A place along a line, or at an end that its breaker has left. */
function LinePlace() {
  const network = useProject((state) => state.network);
  const place = useFaultsState((state) => state.linePlace);
  const put = (next: Exclude<PlaceQuery, { at: 'terminal' }> | null) => setFaults({ linePlace: next, place: next });
  const lines = ofKind(network, 'line');
  const mode = place === null ? null : place.at === 'line' ? 'along' : `end${place.terminal}`;
  return (
    <>
      <Select
        label="On a line"
        size="xs"
        searchable
        clearable
        placeholder="none"
        data={lines.map((line) => ({ value: line.id, label: line.name }))}
        value={place && network.elements.has(place.element) ? place.element : null}
        onChange={(id) => put(id === null ? null : { at: 'line', element: id as ElementId, fraction: 0.5 })}
      />
      {place && (
        <Select
          label="Where"
          size="xs"
          allowDeselect={false}
          data={[
            { value: 'along', label: 'along the line' },
            { value: 'end0', label: 'end 1, breaker open' },
            { value: 'end1', label: 'end 2, breaker open' },
          ]}
          value={mode}
          onChange={(next) =>
            put(
              next === 'along'
                ? { at: 'line', element: place.element, fraction: 0.5 }
                : { at: 'openEnd', element: place.element, terminal: next === 'end0' ? 0 : 1 },
            )
          }
        />
      )}
      {place?.at === 'line' && (
        <Bounded
          label="From end 1"
          unit="%"
          bounds={{ min: 0.1, max: 99.9 }}
          value={Number((place.fraction * 100).toPrecision(4))}
          onChange={(percent) => put({ ...place, fraction: percent / 100 })}
        />
      )}
    </>
  );
}
