'use client';

import { useMemo, useState } from 'react';
import { ActionIcon, Button, NativeSelect, Popover } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { fitsFor, guestFrom, swappedIn } from '@mesura/core/grading/chart/guest';
import { shortName } from '@mesura/core/grading/chart/curves';
import { guestTypes, type ChartGuest, type GradingChart } from '@mesura/core/model/chart';
import type { ElementId } from '@mesura/core/model/fields';
import { deviceOf } from '@mesura/core/protection/device';
import { allFamilies, familyNamed } from '@mesura/core/protection/registry';
import { QuantityField } from '../../card/QuantityField';
import { newId } from '../../project/newId';
import { useProject } from '../../project/ProjectContext';
import { discard, setGrading, useGradingState } from './state';
import bench from '../../card/bench.module.css';
import classes from './grading.module.css';

const most = 8;

interface Kind {
  readonly value: string;
  readonly label: string;
  readonly type: ChartGuest['type'];
  readonly family: string;
  readonly variant: string;
}

/** Everything that a guest can be: each variant of the families with curves, on the host that it is made for. */
const kinds: readonly Kind[] = allFamilies()
  .filter(({ timeCurrents }) => timeCurrents !== undefined)
  .flatMap(({ id, title, hosts, variants }) => {
    const type = guestTypes.find((each) => hosts.includes(each));
    if (!type) return [];
    return variants.map(({ value, label }): Kind => ({
      value: `${id} ${value}`,
      label: label.startsWith(title) || variants.length === 1 ? label : `${title}: ${label}`,
      type,
      family: id,
      variant: value,
    }));
  });

/** Links and releases have their rated current among their settings. */
const hasRating = ({ type, functions }: ChartGuest): boolean =>
  type !== 'fuse' && functions.every(({ family }) => family !== 'release' && family !== 'miniature');

interface Props {
  chart: GradingChart;
  update: (chart: GradingChart, what: string) => void;
}

/** Devices that are not in the network: tried on the chart, in the place of one that is where wanted, and swapped in for it in one step. */
export function GuestsMenu({ chart, update }: Props) {
  const network = useProject((state) => state.network);
  const commit = useProject((state) => state.commit);
  const guest = useGradingState((state) => state.guest);
  const [kind, setKind] = useState('');
  const devices = useMemo(() => chart.relays.flatMap((id) => deviceOf(network, id) ?? []), [chart.relays, network]);
  const put = (added: ChartGuest) => {
    update({ ...chart, guests: [...chart.guests, added] }, `guest ${added.name}`);
    setGrading({ guest: added.id });
  };
  const add = () => {
    const copied = devices.find(({ id }) => `copy ${id}` === kind);
    const count = chart.guests.length + 1;
    if (copied) return put(guestFrom(copied, newId(), `${shortName(copied)} other`.slice(0, 60), chart.referenceKv));
    const made = kinds.find(({ value }) => value === kind);
    if (!made) return;
    put({
      id: newId(),
      name: `${made.label.split(/[,(]/)[0].trim()} ${count}`.slice(0, 60),
      type: made.type,
      standsFor: null,
      kv: chart.referenceKv,
      primaryA: 100,
      secondaryA: made.type === 'relay' ? 1 : 100,
      openingTimeS: null,
      functions: [familyNamed(made.family as never).fresh(newId(), made.variant, null)],
    });
  };
  const change = (id: ElementId, part: Partial<ChartGuest>) =>
    update({ ...chart, guests: chart.guests.map((each) => (each.id === id ? { ...each, ...part } : each)) }, 'guest');
  const remove = (id: ElementId) => {
    discard(id);
    setGrading({ guest: null });
    update({ ...chart, guests: chart.guests.filter((each) => each.id !== id) }, 'take a guest off');
  };
  const swapIn = (each: ChartGuest) => {
    const stored = each.standsFor === null ? undefined : deviceOf(network, each.standsFor);
    if (!stored) return;
    const functions = useGradingState.getState().edited.get(each.id)?.functions ?? each.functions;
    const result = commit(
      [
        { op: 'update', element: swappedIn(network, { ...each, functions: [...functions] }, stored.element) },
        { op: 'update', element: { ...chart, guests: chart.guests.filter(({ id }) => id !== each.id) } },
      ],
      `${each.name} in place of ${stored.name}`,
    );
    if (!result.ok) return;
    discard(each.id);
    discard(stored.id);
    setGrading({ guest: null });
  };
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <Button size="compact-xs" variant="default">
          Guests{chart.guests.length > 0 ? ` (${chart.guests.length})` : ''}
        </Button>
      </Popover.Target>
      <Popover.Dropdown style={{ width: 390, maxHeight: 460, overflow: 'auto' }}>
        <p className={bench.muted} style={{ margin: 0 }}>
          A guest is a device that is not in the network. In the place of one that is, its margins are judged too.
        </p>
        <div className={bench.head} style={{ marginTop: 6 }}>
          <NativeSelect
            size="xs"
            w={250}
            aria-label="Kind of guest"
            value={kind}
            data={[
              { value: '', label: 'Choose a device …' },
              { group: 'Copy of', items: devices.map(({ id, name }) => ({ value: `copy ${id}`, label: name })) },
              { group: 'New', items: kinds.map(({ value, label }) => ({ value, label })) },
            ]}
            onChange={(event) => setKind(event.currentTarget.value)}
          />
          <Button size="compact-xs" variant="light" disabled={kind === '' || chart.guests.length >= most} onClick={add}>
            Add guest
          </Button>
        </div>
        {chart.guests.map((each) => {
          const place = each.standsFor === null ? undefined : deviceOf(network, each.standsFor);
          return (
            <fieldset key={each.id} className={classes.group} aria-label={`Guest ${each.name}`}>
              <div className={bench.head}>
                <button type="button" className={bench.sort} onClick={() => setGrading({ guest: each.id })}>
                  {guest === each.id ? <strong>{each.name}</strong> : each.name}
                </button>
                <span className={bench.spacer} />
                <ActionIcon
                  variant="subtle"
                  color="gray"
                  size={18}
                  aria-label={`Take guest ${each.name} off`}
                  onClick={() => remove(each.id)}
                >
                  <IconX size={11} />
                </ActionIcon>
              </div>
              <div className={bench.head}>
                <NativeSelect
                  size="xs"
                  w={170}
                  aria-label={`${each.name} in the place of`}
                  value={each.standsFor ?? ''}
                  data={[
                    { value: '', label: 'in no place' },
                    ...devices
                      .filter(({ element }) => fitsFor(each, element))
                      .map(({ id, name }) => ({ value: id, label: `in place of ${name}` })),
                  ]}
                  onChange={(event) =>
                    change(each.id, { standsFor: (event.currentTarget.value || null) as ElementId | null })
                  }
                />
                {hasRating(each) && !(each.type === 'relay' && place) && (
                  <div style={{ width: 96 }}>
                    <QuantityField
                      compact
                      label={`${each.name} rated current`}
                      unit="A"
                      value={each.primaryA}
                      onCommit={(value) => {
                        if (value === null || !(value > 0)) return 'above 0';
                        change(each.id, {
                          primaryA: value,
                          secondaryA: each.type === 'relay' ? each.secondaryA : value,
                        });
                        return null;
                      }}
                    />
                  </div>
                )}
                {place && (
                  <Button size="compact-xs" variant="light" onClick={() => swapIn(each)}>
                    Swap in
                  </Button>
                )}
              </div>
            </fieldset>
          );
        })}
      </Popover.Dropdown>
    </Popover>
  );
}
