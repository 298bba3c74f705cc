'use client';

import { ActionIcon, Button, Select } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import { laid } from '@mesura/core/earthReturn/path';
import { noTrial } from '@mesura/core/earthReturn/study';
import { freeName } from '@mesura/core/model/defaults';
import { earthStudySchema, usualPath, type EarthStudy, type EarthStudyLine } from '@mesura/core/model/earthing';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind } from '@mesura/core/model/network';
import { ObjectFields } from '../../card/ObjectFields';
import { newId } from '../../project/newId';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { EarthingFields, freshEarthing } from './EarthingForm';
import { FaultCard } from './FaultCard';
import { PathFields } from './LinePaths';
import { setEarth, useEarthState } from './state';
import { useShownUnit } from './units';
import bench from '../../card/bench.module.css';
import card from '../../card/card.module.css';

const stationSchema = earthStudySchema.shape.stations.element;
const lineSchema = earthStudySchema.shape.lines.element;

/** Studies that need no network: stations, what they give, lines in between. */
export function StudiesView() {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const chosen = useEarthState((state) => state.study);
  const studies = ofKind(network, 'earthStudy');
  const study = studies.find(({ id }) => id === chosen) ?? null;
  const add = () => {
    const station = newId();
    const element: EarthStudy = {
      kind: 'earthStudy',
      id: newId(),
      name: freeName(network.elements.values(), 'Study '),
      note: '',
      hub: { name: 'Station', earthing: { ...freshEarthing, rOhm: 0.5 } },
      local: { currentA: 0, degrees: 0 },
      stations: [{ id: station, name: 'Source 1', earthing: freshEarthing }],
      lines: [{ id: newId(), name: 'Line 1', station, lengthKm: 10, currentA: 5000, degrees: -75, path: usualPath }],
      xOverR: null,
      durationS: 0.5,
    };
    if (store.getState().commit([{ op: 'add', element }], `Add ${element.name}`).ok) open(element.id);
  };
  return (
    <>
      <div className={bench.head}>
        <Select
          size="xs"
          classNames={{ label: card.label }}
          w={240}
          aria-label="Study"
          placeholder={studies.length > 0 ? 'choose a study' : 'none yet'}
          value={study?.id ?? null}
          data={studies.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(next) => open(next as ElementId | null)}
        />
        <Button size="compact-xs" variant="default" leftSection={<IconPlus size={13} />} onClick={add}>
          Study
        </Button>
        {study && (
          <>
            <Button
              size="compact-xs"
              variant="subtle"
              onClick={() => {
                const copy = { ...study, id: newId(), name: freeName(network.elements.values(), `${study.name} `) };
                if (store.getState().commit([{ op: 'add', element: copy }], `Copy ${study.name}`).ok) open(copy.id);
              }}
            >
              Copy
            </Button>
            <Button
              size="compact-xs"
              variant="subtle"
              color="red"
              onClick={() => {
                if (store.getState().commit([{ op: 'remove', id: study.id }], `Remove ${study.name}`).ok) open(null);
              }}
            >
              Remove
            </Button>
          </>
        )}
      </div>
      {!study ? (
        <p className={bench.muted}>
          A study of its own has a faulted station, the stations that feed the fault with their currents, and the lines
          in between; no network is needed.
        </p>
      ) : (
        <>
          <StudyForm key={study.id} study={study} />
          <FaultCard />
        </>
      )}
    </>
  );
}

const open = (study: ElementId | null) =>
  setEarth({ study, studyFault: null, trial: noTrial, right: null, left: null });

function StudyForm({ study }: { study: EarthStudy }) {
  const store = useProjectStore();
  const network = useProject((state) => state.network);
  const shownUnit = useShownUnit();
  const { line: chosenLine, studyFault } = useEarthState();
  const put = (part: Partial<EarthStudy>, what: string): string | null => {
    const now = find(store.getState().network, 'earthStudy', study.id);
    if (!now) return 'the study is not there any more';
    const result = store.getState().commit([{ op: 'update', element: { ...now, ...part } }], `${study.name}: ${what}`);
    return result.ok ? null : result.problems[0].message;
  };
  const putStation = (id: ElementId, part: Partial<EarthStudy['stations'][number]>, what: string) =>
    put({ stations: study.stations.map((each) => (each.id === id ? { ...each, ...part } : each)) }, what);
  const putLine = (id: ElementId, part: Partial<EarthStudyLine>, what: string) =>
    put({ lines: study.lines.map((each) => (each.id === id ? { ...each, ...part } : each)) }, what);
  const editing = study.lines.find(({ id }) => id === chosenLine) ?? null;
  const towersOf = (line: EarthStudyLine): number =>
    laid(line.path, line.lengthKm, [1], (id) => find(network, 'tower', id as ElementId | null)).distancesM.length - 2;
  const faulted = study.lines.find(({ id }) => id === studyFault?.line);
  return (
    <section aria-label={study.name}>
      <div className={bench.head} style={{ alignItems: 'flex-end' }}>
        <ObjectFields
          schema={earthStudySchema}
          value={study}
          fields={['name', 'durationS', 'xOverR']}
          placeholders={{ xOverR: 'not known' }}
          store={put}
        />
      </div>
      <h4 className={bench.subtitle}>Faulted station</h4>
      <EarthingFields
        given={study.hub.earthing}
        put={(next, what) => put({ hub: { ...study.hub, earthing: next } }, what)}
        of={study.hub.name}
        lead={
          <ObjectFields
            schema={earthStudySchema.shape.hub}
            value={study.hub}
            fields={['name']}
            of="faulted station"
            store={(part, what) => put({ hub: { ...study.hub, ...part } }, what)}
          />
        }
      />
      <h4 className={bench.subtitle}>Stations that feed the fault</h4>
      {study.stations.map((station) => (
        <EarthingFields
          key={station.id}
          given={station.earthing}
          put={(next, what) => putStation(station.id, { earthing: next }, what)}
          of={station.name}
          people={false}
          lead={
            <>
              <ActionIcon
                size="sm"
                variant="subtle"
                color="gray"
                mb={4}
                aria-label={`Remove ${station.name}`}
                disabled={study.lines.some((line) => line.station === station.id)}
                onClick={() =>
                  put({ stations: study.stations.filter(({ id }) => id !== station.id) }, `${station.name} removed`)
                }
              >
                <IconTrash size={14} />
              </ActionIcon>
              <ObjectFields
                schema={stationSchema}
                value={station}
                fields={['name']}
                of={station.name}
                store={(part, what) => putStation(station.id, part, what)}
              />
            </>
          }
        />
      ))}
      <Button
        size="compact-xs"
        variant="subtle"
        leftSection={<IconPlus size={13} />}
        onClick={() =>
          put(
            {
              stations: [
                ...study.stations,
                { id: newId(), name: `Source ${study.stations.length + 1}`, earthing: freshEarthing },
              ],
            },
            'station added',
          )
        }
      >
        Station
      </Button>
      <h4 className={bench.subtitle}>Lines</h4>
      {study.lines.map((line) => (
        <div key={line.id} className={bench.head} style={{ alignItems: 'flex-end' }}>
          <ObjectFields
            schema={lineSchema}
            value={line}
            fields={['name']}
            of={line.name}
            store={(part, what) => putLine(line.id, part, what)}
          />
          <Select
            size="xs"
            classNames={{ label: card.label }}
            w={130}
            label="To"
            aria-label={`Station of ${line.name}`}
            allowDeselect={false}
            value={line.station}
            data={study.stations.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(next) => putLine(line.id, { station: next as ElementId }, 'station')}
          />
          <ObjectFields
            schema={lineSchema}
            value={line}
            fields={['lengthKm', 'currentA', 'degrees']}
            of={line.name}
            store={(part, what) => putLine(line.id, part, what)}
            shownUnit={shownUnit}
            width={96}
          />
          <Button
            size="compact-xs"
            variant={editing?.id === line.id ? 'light' : 'default'}
            aria-expanded={editing?.id === line.id}
            onClick={() => setEarth({ line: editing?.id === line.id ? null : line.id })}
          >
            Towers
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() =>
              put(
                { lines: [...study.lines, { ...line, id: newId(), name: `Line ${study.lines.length + 1}` }] },
                `${line.name} copied`,
              )
            }
          >
            Copy
          </Button>
          <ActionIcon
            size="sm"
            variant="subtle"
            color="gray"
            aria-label={`Remove ${line.name}`}
            onClick={() => {
              if (studyFault?.line === line.id) setEarth({ studyFault: null });
              put({ lines: study.lines.filter(({ id }) => id !== line.id) }, `${line.name} removed`);
            }}
          >
            <IconTrash size={14} />
          </ActionIcon>
        </div>
      ))}
      {editing && (
        <PathFields
          path={editing.path}
          put={(path, what) => putLine(editing.id, { path }, what)}
          lengthKm={editing.lengthKm}
          ends={[study.hub.name, study.stations.find(({ id }) => id === editing.station)?.name ?? 'the far end']}
        />
      )}
      <div className={bench.head} style={{ alignItems: 'flex-end' }}>
        <Button
          size="compact-xs"
          variant="subtle"
          leftSection={<IconPlus size={13} />}
          disabled={study.stations.length === 0}
          onClick={() =>
            put(
              {
                lines: [
                  ...study.lines,
                  {
                    id: newId(),
                    name: `Line ${study.lines.length + 1}`,
                    station: study.stations[0].id,
                    lengthKm: 10,
                    currentA: 1000,
                    degrees: -75,
                    path: usualPath,
                  },
                ],
              },
              'line added',
            )
          }
        >
          Line
        </Button>
        <Select
          size="xs"
          classNames={{ label: card.label }}
          w={190}
          label="Fault"
          aria-label="Place of the fault"
          allowDeselect={false}
          value={faulted?.id ?? ''}
          data={[
            { value: '', label: `in ${study.hub.name}` },
            ...study.lines.map((line) => ({
              value: line.id,
              label: `at a tower of ${line.name}`,
              disabled: towersOf(line) < 1,
            })),
          ]}
          onChange={(next) => setEarth({ studyFault: next ? { line: next, tower: 1 } : null })}
        />
        {faulted && studyFault && (
          <Select
            size="xs"
            classNames={{ label: card.label }}
            w={100}
            label="Tower"
            searchable
            allowDeselect={false}
            value={String(studyFault.tower)}
            data={Array.from({ length: towersOf(faulted) }, (_, k) => String(k + 1))}
            onChange={(next) => setEarth({ studyFault: { line: faulted.id, tower: Number(next) } })}
          />
        )}
        {faulted && (
          <ObjectFields
            schema={earthStudySchema.shape.local}
            value={study.local}
            fields={['currentA', 'degrees']}
            of="of the station itself"
            store={(part, what) => put({ local: { ...study.local, ...part } }, what)}
          />
        )}
      </div>
    </section>
  );
}
