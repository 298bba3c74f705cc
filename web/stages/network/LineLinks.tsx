'use client';

import { ActionIcon, Button, Select, Table, Tooltip } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import { wires } from '@mesura/core/equipment/library/wires';
import type { Line, LineCoupling, Tower, TowerConductor } from '@mesura/core/model/branches';
import type { Element } from '@mesura/core/model/element';
import { freeName } from '@mesura/core/model/defaults';
import type { ElementId } from '@mesura/core/model/fields';
import { find, ofKind, settingsOf } from '@mesura/core/model/network';
import { lineConstants, mutualImpedance, towerProblem } from '@mesura/core/sequence/lineConstants';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { formatNumber } from '@mesura/core/fields/quantity';
import { outOfBounds, QuantityField } from '../../card/QuantityField';
import card from '../../card/card.module.css';
import bench from '../../card/bench.module.css';

function useStore<E extends Element>(name: string) {
  const commit = useProject((state) => state.commit);
  return (changed: E, what: string) => commit([{ op: 'update', element: changed }], `${name}: ${what}`);
}

const options = (list: readonly { id: string; name: string }[]) =>
  list.map(({ id, name }) => ({ value: id, label: name }));

/** The tower a line takes its data from, and what comes of it. */
export function LineTowerForm({ line }: { line: Line }) {
  const network = useProject((state) => state.network);
  const store = useStore<Line>(line.name);
  const select = useProject((state) => state.select);
  if (line.data !== 'tower') return null;
  const tower = find(network, 'tower', line.tower);
  const problem = tower ? towerProblem(tower, line.towerCircuit) : 'choose a tower';
  const data = tower && !problem ? lineConstants(tower, line.towerCircuit, settingsOf(network).frequencyHz) : null;
  const complex = (z: { re: number; im: number }) => `${formatNumber(z.re)} + j${formatNumber(z.im)} Ω/km`;
  return (
    <div className={card.form}>
      <Select
        label="Tower"
        size="xs"
        data={options(ofKind(network, 'tower'))}
        value={line.tower}
        onChange={(id) => store({ ...line, tower: id as ElementId | null }, 'tower')}
        classNames={{ root: card.row, label: card.label }}
      />
      <p className={bench.muted} style={{ gridColumn: '1 / -1', margin: 0 }}>
        {data ? (
          <span className="figure">
            Z1 {complex(data.z1)} · Z0 {complex(data.z0)} · B1 {formatNumber(data.b1UsPerKm, 3)} µS/km
          </span>
        ) : (
          problem
        )}{' '}
        {tower && (
          <button type="button" className={bench.input} onClick={() => select([tower.id])}>
            {tower.name}
          </button>
        )}
      </p>
    </div>
  );
}

/** The two lines of a coupling. */
export function CouplingForm({ coupling }: { coupling: LineCoupling }) {
  const network = useProject((state) => state.network);
  const store = useStore<LineCoupling>(coupling.name);
  const lines = ofKind(network, 'line');
  const [first, second] = [find(network, 'line', coupling.first), find(network, 'line', coupling.second)];
  const tower = first && second && first.tower === second.tower ? find(network, 'tower', first.tower) : undefined;
  const mutual =
    tower && first && second
      ? mutualImpedance(tower, first.towerCircuit, second.towerCircuit, settingsOf(network).frequencyHz)
      : null;
  return (
    <div className={card.form}>
      {(['first', 'second'] as const).map((which) => (
        <Select
          key={which}
          label={which === 'first' ? 'First line' : 'Second line'}
          size="xs"
          allowDeselect={false}
          data={options(lines)}
          value={coupling[which]}
          onChange={(id) => id && store({ ...coupling, [which]: id as ElementId }, `${which} line`)}
          classNames={{ root: card.row, label: card.label }}
        />
      ))}
      {mutual && (
        <p className={bench.muted} style={{ gridColumn: '1 / -1', margin: 0 }}>
          <span className="figure">
            From {tower!.name}: Z0m {formatNumber(mutual.re)} + j{formatNumber(mutual.im)} Ω/km
          </span>
          {coupling.x0mOhmPerKm === null ? ', in use' : ', not in use: typed values stand'}
        </p>
      )}
    </div>
  );
}

type Figure = Exclude<keyof TowerConductor, 'metal'>;
const columns: { key: Figure; head: string; min: number; optional?: boolean }[] = [
  { key: 'circuit', head: 'Circuit', min: 0 },
  { key: 'phase', head: 'Phase', min: 0 },
  { key: 'xM', head: 'x m', min: -200 },
  { key: 'heightM', head: 'Height m', min: 0.1 },
  { key: 'rOhmPerKm', head: 'R Ω/km', min: 0 },
  { key: 'gmrMm', head: 'GMR mm', min: 0.1 },
  { key: 'radiusMm', head: 'Radius mm', min: 0.1 },
  { key: 'bundle', head: 'Bundle', min: 1 },
  { key: 'bundleSpacingMm', head: 'Spacing mm', min: 0 },
  { key: 'sectionMm2', head: 'Section mm²', min: 0.1, optional: true },
];

const newConductor: TowerConductor = {
  circuit: 1,
  phase: 1,
  xM: 0,
  heightM: 15,
  rOhmPerKm: 0.118,
  gmrMm: 8.6,
  radiusMm: 10.9,
  bundle: 1,
  bundleSpacingMm: 0,
  sectionMm2: 240,
  metal: 'aluminium',
};

/** Conductors of a tower, a row each; heights are means over the span, circuit and phase 0 is a shield wire. */
export function TowerForm({ tower }: { tower: Tower }) {
  const store = useStore<Tower>(tower.name);
  const put = (conductors: TowerConductor[], what: string) => store({ ...tower, conductors }, what);
  return (
    <>
      <h3 className={bench.subtitle}>Conductors</h3>
      <p className={bench.muted}>Heights are means over the span. Circuit 0, phase 0: a shield wire.</p>
      <div style={{ overflowX: 'auto' }}>
        <Table className="figures" verticalSpacing={2} horizontalSpacing={4}>
          <Table.Thead>
            <Table.Tr>
              {columns.map(({ head }) => (
                <Table.Th key={head} style={{ fontSize: 12, fontWeight: 500 }}>
                  {head}
                </Table.Th>
              ))}
              <Table.Th />
              <Table.Th />
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {tower.conductors.map((conductor, k) => (
              <Table.Tr key={k}>
                {columns.map(({ key, head, min, optional }) => (
                  <Table.Td key={key}>
                    <QuantityField
                      compact
                      optional={optional}
                      label={`${head}, conductor ${k + 1}`}
                      unit=""
                      value={conductor[key]}
                      onCommit={(value) => {
                        const wrong = outOfBounds(value, { min });
                        if (wrong) return wrong;
                        const result = put(
                          tower.conductors.map((each, j) => (j === k ? { ...each, [key]: value } : each)),
                          `conductor ${k + 1}`,
                        );
                        return result.ok ? null : result.problems[0].message;
                      }}
                    />
                  </Table.Td>
                ))}
                <Table.Td>
                  <Select
                    size="xs"
                    w={150}
                    searchable
                    aria-label={`From the library, conductor ${k + 1}`}
                    placeholder="library …"
                    value={null}
                    data={wires.map(({ key, title }) => ({ value: key, label: title }))}
                    onChange={(next) => {
                      const found = wires.find(({ key }) => key === next);
                      if (!found) return;
                      const { rOhmPerKm, gmrMm, radiusMm, sectionMm2, metal } = found;
                      const taken = { rOhmPerKm, gmrMm, radiusMm, sectionMm2, metal };
                      put(
                        tower.conductors.map((each, j) => (j === k ? { ...each, ...taken } : each)),
                        `conductor ${k + 1} as ${found.title}`,
                      );
                    }}
                  />
                </Table.Td>
                <Table.Td>
                  <Tooltip label="Remove">
                    <ActionIcon
                      variant="subtle"
                      color="gray"
                      size={24}
                      aria-label={`Remove conductor ${k + 1}`}
                      onClick={() =>
                        put(
                          tower.conductors.filter((_, j) => j !== k),
                          'conductor removed',
                        )
                      }
                    >
                      <IconTrash size={14} />
                    </ActionIcon>
                  </Tooltip>
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </div>
      <Button
        size="compact-xs"
        variant="default"
        mt={6}
        leftSection={<IconPlus size={13} />}
        onClick={() => put([...tower.conductors, tower.conductors.at(-1) ?? newConductor], 'conductor added')}
      >
        Conductor
      </Button>
    </>
  );
}

/** What belongs to the network but does not stand on the drawing. */
export function OffDrawing() {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const select = useProject((state) => state.select);
  const [towers, couplings, lines] = [
    ofKind(network, 'tower'),
    ofKind(network, 'lineCoupling'),
    ofKind(network, 'line'),
  ];
  const add = (element: Tower | LineCoupling) => {
    if (commit([{ op: 'add', element }], `Add ${element.name}`).ok) select([element.id]);
  };
  const item = (element: Tower | LineCoupling) => (
    <li key={element.id}>
      <button type="button" className={bench.input} onClick={() => select([element.id])}>
        {element.name}
      </button>
    </li>
  );
  return (
    <>
      <h3 className={bench.subtitle}>Towers and line couplings</h3>
      <ul className={bench.help}>
        {towers.map(item)}
        {couplings.map(item)}
      </ul>
      <Button.Group mt={6}>
        <Button
          size="compact-xs"
          variant="default"
          leftSection={<IconPlus size={13} />}
          onClick={() =>
            add({
              kind: 'tower',
              id: newId(),
              name: freeName(network.elements.values(), 'Tower '),
              earthResistivityOhmM: 100,
              conductors: [1, 2, 3].map((phase) => ({ ...newConductor, phase, xM: 4 * (phase - 2) })),
            })
          }
        >
          Tower
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          disabled={lines.length < 2}
          leftSection={<IconPlus size={13} />}
          onClick={() =>
            add({
              kind: 'lineCoupling',
              id: newId(),
              name: freeName(network.elements.values(), 'Coupling '),
              first: lines[0].id,
              second: lines[1].id,
              firstFromKm: 0,
              secondFromKm: 0,
              lengthKm: Math.min(lines[0].lengthKm, lines[1].lengthKm),
              opposite: false,
              r0mOhmPerKm: 0.15,
              x0mOhmPerKm: 0.6,
            })
          }
        >
          Line coupling
        </Button>
      </Button.Group>
    </>
  );
}
