'use client';

import { useState } from 'react';
import { Button, Menu, Select, Slider } from '@mantine/core';
import { IconFileDownload } from '@tabler/icons-react';
import { formatNumber } from '@mesura/core/fields/quantity';
import { profileRows } from '@mesura/core/earthReturn/profiles';
import { noTrial, placeName, verdictTitles, type EarthDetail } from '@mesura/core/earthReturn/study';
import type { ElementId } from '@mesura/core/model/fields';
import { freeName } from '@mesura/core/model/defaults';
import { nameIn, settingsOf } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { magnitude } from '@mesura/core/linear/complex';
import type { Section } from '@mesura/core/working/trace';
import { saveText } from '../../card/saveText';
import { WorkingView } from '../../card/WorkingView';
import { Chip } from '../../desk/Chip';
import { tell } from '../../desk/report';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { useCore, useCoreService } from '../../workers/useCore';
import { ProfilePlots } from './ProfilePlots';
import { setEarth, useEarthState } from './state';
import { useDetail, useQuery } from './useDetail';
import { useEarth } from './useEarth';
import bench from '../../card/bench.module.css';

/** One earth fault: shares, potentials, what people and wires bear, profiles, what if. */
export function FaultCard() {
  const network = useProject((state) => state.network);
  const query = useQuery();
  const { value, isCurrent, failed } = useDetail();
  const { place, condition } = useEarthState();
  const table = useEarth(query?.of === 'network').value;
  const [shown, setShown] = useState(false);
  if (failed) return <p className={bench.problem}>{failed}</p>;
  if (!query || !value)
    return (
      <p className={bench.muted} role="status">
        Computing …
      </p>
    );
  if (!value.ok) return <p className={bench.problem}>{sentence(value.problem)}</p>;
  const { detail } = value;
  const title = query.of === 'network' ? placeName(network, query.place) : nameIn(network, query.study);
  const conditions =
    place?.at === 'bus' ? (table?.rows.filter(({ bus }) => bus === place.bus).map((row) => row.condition) ?? []) : [];
  return (
    <section aria-label={`Earth fault at ${title}`} className={isCurrent ? undefined : bench.stale}>
      <div className={bench.head} style={{ marginTop: 12 }}>
        <h3 className={bench.subtitle} style={{ margin: 0 }}>
          Earth fault at {title}
        </h3>
        <span className={bench.spacer} />
        {query.of === 'network' && conditions.length > 1 && (
          <Select
            size="xs"
            w={170}
            aria-label="Condition of the fault"
            allowDeselect={false}
            value={condition ?? query.condition}
            data={conditions.map((id) => ({ value: id, label: conditionOf(network, id)?.name ?? id }))}
            onChange={(next) => setEarth({ condition: next as ElementId, trial: noTrial })}
          />
        )}
        {query.of === 'network' && query.place.at === 'bus' && <CopyButton title={title} />}
        <Menu withinPortal position="bottom-end">
          <Menu.Target>
            <Button size="compact-xs" variant="default" leftSection={<IconFileDownload size={13} />}>
              Profiles
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => saveProfiles(title, detail)}>All profiles (CSV)</Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      <Figures detail={detail} />
      {detail.remarks.length > 0 && (
        <p className={bench.muted} style={{ margin: '2px 0' }}>
          {detail.remarks.map(sentence).join(' ')}
        </p>
      )}
      <WhatIf detail={detail} />
      <ProfilePlots detail={detail} label={title} />
      <Stations detail={detail} />
      <Lines detail={detail} />
      <Button size="compact-xs" variant="subtle" mt={6} onClick={() => setShown(!shown)}>
        {shown ? 'Hide the working' : 'Show the working'}
      </Button>
      {shown && <Working title={title} />}
    </section>
  );
}

const capital = (text: string): string => `${text[0].toUpperCase()}${text.slice(1)}`;
const sentence = (text: string): string => `${capital(text)}.`;

function Figures({ detail: { figures, time, names, hub, fault } }: { detail: EarthDetail }) {
  const network = useProject((state) => state.network);
  const { limitV } = settingsOf(network).earthReturn;
  const { touch, verdict, decrement, worstTower, hottest, openEnd } = figures;
  const state = verdict === 'met' ? 'pass' : verdict === 'measures' ? 'warn' : 'fail';
  return (
    <>
      <p style={{ margin: '4px 0' }}>
        {fault ? (
          <>
            Fault at tower {fault.tower} of {names[fault.line]}:{' '}
          </>
        ) : null}
        {fault ? 'of' : 'Of'} {formatNumber(fault ? figures.faultA : figures.linesA, 4)} A{' '}
        <strong role="status" aria-label="Split factor">
          {formatNumber(100 * figures.split, 4)} %
        </strong>{' '}
        go into the earthing of {names[hub]}: <strong>{formatNumber(figures.gridA, 4)} A</strong>
        {decrement !== null && <>, with the decrement factor {formatNumber(decrement * figures.gridA, 4)} A</>}. It
        rises by <strong>{formatNumber(figures.riseV, 4)} V</strong>.
      </p>
      <p style={{ margin: '4px 0' }}>
        <Chip state={state}>{verdictTitles[verdict]}</Chip> {formatNumber(touch.touchV, 3)} V may be touched for{' '}
        {formatNumber(touch.seconds, 3)} s
        {time.device
          ? `, until ${nameIn(network, time.device)} has cleared`
          : time.by === 'project'
            ? ', as the project says: the protection does not clear it'
            : ''}
        {touch.stepV !== null && `, ${formatNumber(touch.stepV, 3)} V spanned by a step`}; up to a rise of{' '}
        {formatNumber(touch.metV, 4)} V nothing more is to be shown
        {touch.measuresV !== null &&
          `, up to ${formatNumber(touch.measuresV, 4)} V the measures of the standard do`}.{' '}
        <span className={bench.muted}>{touch.source}.</span>
      </p>
      {limitV !== null && (
        <p style={{ margin: '4px 0' }}>
          <Chip state={figures.riseV <= limitV ? 'pass' : 'fail'}>own limit</Chip> {formatNumber(limitV, 4)} V.
        </p>
      )}
      <p style={{ margin: '4px 0' }}>
        {worstTower && (
          <>
            Highest at tower {worstTower.tower} of {names[worstTower.line]}: {formatNumber(worstTower.volts, 4)} V.{' '}
          </>
        )}
        {openEnd && (
          <>
            Between the open end of {openEnd.wire} of {names[openEnd.line]} and its station:{' '}
            {formatNumber(openEnd.volts, 4)} V.{' '}
          </>
        )}
        {hottest && (
          <>
            {capital(hottest.wire)} of {names[hottest.line]} carries {formatNumber(hottest.ampere, 4)} A of{' '}
            {formatNumber(hottest.borneA, 4)} A that it bears{' '}
            <Chip state={hottest.ampere <= hottest.borneA ? 'pass' : 'fail'}>
              {formatNumber((100 * hottest.ampere) / hottest.borneA, 3)} %
            </Chip>
            .
          </>
        )}
      </p>
    </>
  );
}

/** Resistances are dragged over this range either way. */
const decades = 1.3;

/** Earthings of stations and footings of lines dragged, and the split factor follows. */
function WhatIf({ detail }: { detail: EarthDetail }) {
  const trial = useEarthState((state) => state.trial);
  const [open, setOpen] = useState(false);
  const isTried = Object.keys(trial.stations).length + Object.keys(trial.footings).length > 0;
  const near = [
    ...new Set([detail.hub, ...detail.profiles.filter(({ from }) => from === detail.hub).map(({ to }) => to)]),
  ];
  const stations = near.filter((key) => detail.earthings[key]);
  const lines = detail.profiles.filter(
    ({ from, footingOhm }) => from === detail.hub && footingOhm.some((ohm) => ohm !== null),
  );
  return (
    <div style={{ margin: '4px 0' }}>
      <Button
        size="compact-xs"
        variant={isTried ? 'light' : 'subtle'}
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        What if …
      </Button>
      {isTried && (
        <Button size="compact-xs" variant="subtle" ml={6} onClick={() => setEarth({ trial: noTrial })}>
          As stored
        </Button>
      )}
      {open && (
        <div
          style={{
            display: 'grid',
            gridTemplateColumns: '170px 1fr 90px',
            gap: '4px 12px',
            alignItems: 'center',
            maxWidth: 520,
            marginTop: 4,
          }}
        >
          {stations.map((key) => (
            <OhmSlider
              key={key}
              label={`Earthing of ${detail.names[key]}`}
              ohm={trial.stations[key] ?? magnitude(detail.earthings[key]!)}
              stored={key in trial.stations ? null : magnitude(detail.earthings[key]!)}
              onChange={(ohm) => setEarth({ trial: { ...trial, stations: { ...trial.stations, [key]: ohm } } })}
            />
          ))}
          {lines.map(({ line, name }) => (
            <FactorSlider
              key={line}
              label={`Footings of ${name}`}
              factor={trial.footings[line] ?? 1}
              onChange={(factor) => setEarth({ trial: { ...trial, footings: { ...trial.footings, [line]: factor } } })}
            />
          ))}
        </div>
      )}
    </div>
  );
}

function OhmSlider({
  label,
  ohm,
  stored,
  onChange,
}: {
  label: string;
  ohm: number;
  stored: number | null;
  onChange: (ohm: number) => void;
}) {
  // The range stays where it was when the drag began.
  const [centre, setCentre] = useState(ohm);
  if (stored !== null && stored !== centre) setCentre(stored);
  return (
    <FactorSlider
      label={label}
      factor={ohm / centre}
      shown={`${formatNumber(ohm, 3)} Ω`}
      onChange={(factor) => onChange(Number((factor * centre).toPrecision(3)))}
    />
  );
}

function FactorSlider({
  label,
  factor,
  shown,
  onChange,
}: {
  label: string;
  factor: number;
  shown?: string;
  onChange: (factor: number) => void;
}) {
  return (
    <>
      <span style={{ fontSize: 13 }}>{label}</span>
      <Slider
        size="sm"
        thumbLabel={label}
        label={null}
        min={-decades}
        max={decades}
        step={0.01}
        value={Math.log10(factor)}
        onChange={(next) => onChange(Number((10 ** next).toPrecision(3)))}
      />
      <span className="figure">{shown ?? `× ${formatNumber(factor, 3)}`}</span>
    </>
  );
}

function Stations({ detail }: { detail: EarthDetail }) {
  const { figures, names, hub } = detail;
  return (
    <table className={`${bench.table} figures`} aria-label="Stations of the fault" style={{ marginTop: 8 }}>
      <thead>
        <tr>
          <th>Station</th>
          <th className="number">Earthing Ω</th>
          <th className="number" title="Potential against remote earth">
            U V
          </th>
          <th className="number" title="Picked up from earth by the earthing; at the faulted station what goes into it">
            Earth A
          </th>
          <th className="number" title="What comes back in shield wires and sheaths">
            Wires A
          </th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <td>
            <strong>{names[hub]}</strong>
          </td>
          <td className="number">{ohms(detail, hub)}</td>
          <td className="number">{formatNumber(figures.riseV, 4)}</td>
          <td className="number">{formatNumber(figures.gridA, 4)}</td>
          <td className="number" />
        </tr>
        {figures.stations.map(({ key, name, riseV, fromEarthA, byWiresA }) => (
          <tr key={key}>
            <td>{name}</td>
            <td className="number">{ohms(detail, key)}</td>
            <td className="number">{formatNumber(riseV, 4)}</td>
            <td className="number">{amperes(fromEarthA)}</td>
            <td className="number">{amperes(byWiresA)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Lines({ detail: { currents, names } }: { detail: EarthDetail }) {
  return (
    <table className={`${bench.table} figures`} aria-label="Lines of the fault" style={{ marginTop: 8 }}>
      <thead>
        <tr>
          <th>Line</th>
          <th className="number" title="Of its phases together, towards the station">
            3I0 A
          </th>
          <th className="number">°</th>
          <th className="number" title="In its wires where it begins">
            Wires A
          </th>
          <th
            className="number"
            title="Reduction factor: part that returns in earth far from both ends, closed form (EN 50522, annex I, as remembered)"
          >
            r
          </th>
          <th className="number" title="The same half-way along the line as it is">
            half-way
          </th>
        </tr>
      </thead>
      <tbody>
        {currents.map(({ line, ampere, degrees, wiresA, reduction, found }) => (
          <tr key={line}>
            <td>{names[line]}</td>
            <td className="number">{amperes(ampere)}</td>
            <td className="number">{ampere < 0.1 ? '' : formatNumber(degrees, 3)}</td>
            <td className="number">{amperes(wiresA)}</td>
            <td className="number">{formatNumber(reduction, 3)}</td>
            <td className="number">{found === null ? '' : formatNumber(found, 3)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Dust is nothing. */
const amperes = (value: number): string => formatNumber(value < 1e-6 ? 0 : value, 4);

function ohms({ earthings }: EarthDetail, key: string): string {
  const own = earthings[key];
  return own ? formatNumber(magnitude(own), 3) : '';
}

/** More stations and lines than a study may have. */
const mostIds = 120;

/** The fault as it is, to go on from without the network. */
function CopyButton({ title }: { title: string }) {
  const store = useProjectStore();
  const service = useCoreService();
  const query = useQuery();
  const copy = async () => {
    const { network, commit } = store.getState();
    const name = freeName(network.elements.values(), `${title} `);
    const ids = Array.from({ length: mostIds }, newId);
    const element = query && (await service?.earthCopy(query, name, ids));
    if (!element) return;
    const result = commit([{ op: 'add', element }], `Add ${name}`);
    if (result.ok) setEarth({ view: 'studies', study: element.id, studyFault: null, trial: noTrial });
    else tell('The study is not made', result.problems[0].message);
  };
  return (
    <Button size="compact-xs" variant="default" onClick={() => void copy()}>
      Copy as a study
    </Button>
  );
}

function saveProfiles(title: string, detail: EarthDetail): void {
  const { columns, rows } = profileRows(detail);
  const cell = (value: string | number | null | undefined): string => {
    if (value === null || value === undefined) return '';
    if (typeof value === 'number') return String(Number(value.toPrecision(8)));
    // A text that a spreadsheet would take for a formula stays one.
    const safe = /^[=+\-@]/.test(value) ? `'${value}` : value;
    return /[",\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
  };
  const lines = [columns.map(({ head }) => cell(head)), ...rows.map((row) => columns.map(({ key }) => cell(row[key])))];
  saveText(`${title} earth return.csv`, `${lines.map((line) => line.join(',')).join('\n')}\n`);
}

function Working({ title }: { title: string }) {
  const query = useQuery();
  const { value } = useCore<readonly Section[]>(query && JSON.stringify(['earth working', query]), (service) =>
    service.earthWorking(query!),
  );
  if (!value) return null;
  return <WorkingView working={{ title, sections: value, omitted: 0 }} />;
}
