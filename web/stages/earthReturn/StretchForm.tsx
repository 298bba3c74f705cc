'use client';

import { ActionIcon, Button, Select, Tooltip } from '@mantine/core';
import { IconArrowUp, IconPlus, IconTrash } from '@tabler/icons-react';
import { wires as wireLibrary } from '@mesura/core/equipment/library/wires';
import { returnPathSchema, usualSheath, type AddedWire, type ReturnStretch } from '@mesura/core/model/earthing';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import { ObjectFields } from '../../card/ObjectFields';
import { useProject } from '../../project/ProjectContext';
import { ListField } from './ListField';
import { listText, numbersOf } from './lists';
import { useShownUnit } from './units';
import bench from '../../card/bench.module.css';
import card from '../../card/card.module.css';

const stretchSchema = returnPathSchema.shape.stretches.element;
const wireSchema = stretchSchema.shape.wires.element;
const sheathSchema = stretchSchema.shape.sheath.unwrap();

const words: Readonly<Record<string, string>> = {
  overhead: 'towers',
  cable: 'cable',
  joined: 'in the air, joined to every tower',
  bare: 'bare in the soil',
  insulated: 'insulated, joined at its ends',
  trefoil: 'single cores, trefoil',
  flat: 'single cores, flat',
  threeCore: 'three cores in one sheath',
  both: 'at both ends',
  from: 'at the first end',
  to: 'at the second end',
  cross: 'cross-bonded',
};

const freshWire: AddedWire = {
  name: 'counterpoise',
  lies: 'bare',
  xM: 0,
  heightM: -0.7,
  rOhmPerKm: 0.387,
  gmrMm: 3.3,
  sectionMm2: 50,
  metal: 'copper',
};

/** A part of a line: towers and their wires, or a cable. */
export function StretchForm({
  stretch,
  number,
  put,
  remove,
  up,
}: {
  stretch: ReturnStretch;
  number: number;
  put: (next: ReturnStretch, what: string) => string | null;
  remove: (() => void) | null;
  up: (() => void) | null;
}) {
  const network = useProject((state) => state.network);
  const shownUnit = useShownUnit();
  const towers = ofKind(network, 'tower');
  const store = (part: Partial<ReturnStretch>, what: string) =>
    put({ ...stretch, ...part }, `stretch ${number}, ${what}`);
  const isCable = stretch.kind === 'cable';
  const tower = towers.find(({ id }) => id === stretch.tower);
  const { factor, unit } = shownUnit('m');
  const putList = (key: 'spansM' | 'footingsOhm', text: string, scale: number): string | null => {
    const list = numbersOf(text);
    if (!list.ok) return list.message;
    const values = list.values.map((value) => value / scale);
    if (values.some((value) => value <= 0)) return 'all must be above 0';
    return store({ [key]: values.length === 0 ? null : values }, key === 'spansM' ? 'spans' : 'footings');
  };
  return (
    <fieldset style={{ border: '1px solid var(--m-rule)', borderRadius: 6, margin: '6px 0', padding: '4px 10px 8px' }}>
      <legend style={{ fontSize: 12.5, fontWeight: 600, padding: '0 4px' }}>Stretch {number}</legend>
      <div className={bench.head} style={{ alignItems: 'flex-end' }}>
        <Select
          size="xs"
          classNames={{ label: card.label }}
          w={110}
          label="Kind"
          aria-label={`Kind, stretch ${number}`}
          allowDeselect={false}
          value={stretch.kind}
          data={['overhead', 'cable'].map((each) => ({ value: each, label: words[each] }))}
          onChange={(next) =>
            store(
              next === 'cable'
                ? { kind: 'cable', sheath: stretch.sheath ?? usualSheath, footingOhm: null, footingsOhm: null }
                : { kind: 'overhead', footingOhm: stretch.footingOhm ?? 15 },
              'kind',
            )
          }
        />
        {!isCable && (
          <Select
            size="xs"
            classNames={{ label: card.label }}
            w={190}
            label="Conductors"
            aria-label={`Conductors, stretch ${number}`}
            placeholder="choose a tower"
            clearable
            value={stretch.tower}
            data={towers.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(next) => store({ tower: next as ElementId | null }, 'conductors')}
          />
        )}
        <ObjectFields
          schema={stretchSchema}
          value={stretch}
          fields={
            isCable
              ? ['lengthKm', 'soilOhmM']
              : ['lengthKm', 'spanM', 'soilOhmM', 'footingOhm', 'spread', 'seed', 'insulated']
          }
          placeholders={{
            lengthKm: 'the rest',
            soilOhmM: String(tower?.earthResistivityOhmM ?? 100),
            footingOhm: 'none',
            spread: 'all alike',
          }}
          of={`stretch ${number}`}
          store={store}
          shownUnit={shownUnit}
          width={104}
        />
        <span className={bench.spacer} />
        {up && (
          <Tooltip label="Before the one above">
            <ActionIcon
              size="sm"
              variant="subtle"
              color="gray"
              aria-label={`Stretch ${number} further to the front`}
              onClick={up}
            >
              <IconArrowUp size={14} />
            </ActionIcon>
          </Tooltip>
        )}
        {remove && (
          <Tooltip label="Remove">
            <ActionIcon
              size="sm"
              variant="subtle"
              color="gray"
              aria-label={`Remove stretch ${number}`}
              onClick={remove}
            >
              <IconTrash size={14} />
            </ActionIcon>
          </Tooltip>
        )}
      </div>
      {!isCable && (
        <div className={bench.head} style={{ alignItems: 'flex-end' }}>
          <ListField
            label={`Spans one by one, ${unit}`}
            placeholder="all alike"
            value={listText(stretch.spansM && stretch.spansM.map((value) => value * factor))}
            onCommit={(text) => putList('spansM', text, factor)}
          />
          <ListField
            label="Footings one by one, Ω"
            placeholder="as above"
            value={listText(stretch.footingsOhm)}
            onCommit={(text) => putList('footingsOhm', text, 1)}
          />
        </div>
      )}
      {isCable && stretch.sheath && (
        <div className={bench.head} style={{ alignItems: 'flex-end' }}>
          <ObjectFields
            schema={sheathSchema}
            value={stretch.sheath}
            fields={[
              'formation',
              'bonding',
              ...(stretch.sheath.bonding === 'cross' ? (['majorM'] as const) : []),
              ...(stretch.sheath.formation === 'threeCore' ? [] : (['spacingM'] as const)),
              'depthM',
              'rOhmPerKm',
              'radiusMm',
              'sectionMm2',
              'metal',
            ]}
            words={words}
            of={`stretch ${number}`}
            store={(part, what) => store({ sheath: { ...stretch.sheath!, ...part } }, what)}
            shownUnit={shownUnit}
          />
          {stretch.sheath.bonding === 'cross' && (
            <ObjectFields
              schema={stretchSchema}
              value={stretch}
              fields={['footingOhm']}
              placeholders={{ footingOhm: 'none' }}
              of={`joints of stretch ${number}`}
              store={store}
            />
          )}
        </div>
      )}
      {stretch.wires.map((wire, k) => (
        <WireFields
          key={k}
          wire={wire}
          of={`wire ${k + 1} of stretch ${number}`}
          put={(next, what) => store({ wires: stretch.wires.map((each, at) => (at === k ? next : each)) }, what)}
          remove={() => store({ wires: stretch.wires.filter((_, at) => at !== k) }, 'wire removed')}
        />
      ))}
      <Button
        size="compact-xs"
        variant="subtle"
        mt={4}
        leftSection={<IconPlus size={13} />}
        disabled={stretch.wires.length >= 6}
        onClick={() => {
          const taken = new Set(stretch.wires.map(({ name }) => name));
          const name = ['counterpoise', 'earth conductor', 'neutral', 'wire 4', 'wire 5', 'wire 6'].find(
            (each) => !taken.has(each),
          )!;
          store(
            {
              wires: [
                ...stretch.wires,
                { ...freshWire, name, ...(name === 'neutral' && { lies: 'joined', heightM: 7 }) },
              ],
            },
            'wire added',
          );
        }}
      >
        Further wire
      </Button>
    </fieldset>
  );
}

function WireFields({
  wire,
  of,
  put,
  remove,
}: {
  wire: AddedWire;
  of: string;
  put: (next: AddedWire, what: string) => string | null;
  remove: () => void;
}) {
  const shownUnit = useShownUnit();
  const store = (part: Partial<AddedWire>, what: string) => put({ ...wire, ...part }, `${wire.name}, ${what}`);
  return (
    <div className={bench.head} style={{ alignItems: 'flex-end' }}>
      <ObjectFields schema={wireSchema} value={wire} fields={['name', 'lies']} words={words} of={of} store={store} />
      <Select
        size="xs"
        classNames={{ label: card.label }}
        w={190}
        label="From the library"
        aria-label={`From the library, ${of}`}
        placeholder="choose …"
        value={null}
        searchable
        data={wireLibrary.map(({ key, title }) => ({ value: key, label: title }))}
        onChange={(next) => {
          const found = wireLibrary.find(({ key }) => key === next);
          if (found)
            store(
              { rOhmPerKm: found.rOhmPerKm, gmrMm: found.gmrMm, sectionMm2: found.sectionMm2, metal: found.metal },
              found.title,
            );
        }}
      />
      <ObjectFields
        schema={wireSchema}
        value={wire}
        fields={['xM', 'heightM', 'rOhmPerKm', 'gmrMm', 'sectionMm2', 'metal']}
        words={words}
        of={of}
        store={store}
        shownUnit={shownUnit}
        width={92}
      />
      <ActionIcon size="sm" variant="subtle" color="gray" aria-label={`Remove ${of}`} onClick={remove}>
        <IconTrash size={14} />
      </ActionIcon>
    </div>
  );
}
