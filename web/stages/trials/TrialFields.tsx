'use client';

import { MultiSelect, NumberInput, Select } from '@mantine/core';
import { faultKinds, phaseNames, shortKindTitles } from '@mesura/core/faults/kinds';
import { alternating } from '@mesura/core/model/directPart';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { ofKind } from '@mesura/core/model/network';
import type { Trial, TrialFault } from '@mesura/core/model/trial';
import { conditionsOf } from '@mesura/core/model/state';
import { devicesOf } from '@mesura/core/protection/device';
import { useProject } from '../../project/ProjectContext';
import { changeFaults, changeTrial } from './state';
import bench from '../../card/bench.module.css';

const isTwoPhase = (kind: TrialFault['kind']) => kind === '2ph' || kind === '2phE';

/** What the phase that stands out means for this kind. */
const phaseTitle = (fault: TrialFault): string =>
  fault.type === 'open' ? 'Broken phase' : isTwoPhase(fault.kind) ? 'Sound phase' : 'Faulted phase';

/** Where the fault is, in words: "FER-BRA 1 at 40 %", "FER CT31, below". */
export function usePlaceText(): (fault: TrialFault) => string {
  const network = useProject((state) => state.network);
  return ({ element, terminal, fraction }) => {
    const found = network.elements.get(element);
    if (!found) return 'a place that is gone';
    if (fraction !== null) return `${nameOf(found)} at ${Number((100 * fraction).toPrecision(4))} %`;
    if (found.kind === 'switch' || found.kind === 'currentTransformer')
      return `${nameOf(found)}, ${terminal === 1 ? 'lower' : 'upper'} side`;
    return found.kind === 'line' || found.kind === 'transformer'
      ? `${nameOf(found)}, end ${(terminal ?? 0) + 1}`
      : nameOf(found);
  };
}

/** What is played: fault, condition, what fails. */
export function TrialFields({ trial }: { trial: Trial }) {
  const network = useProject((state) => state.network);
  const [fault] = trial.faults;
  const putFirst = (part: Partial<TrialFault>) => changeFaults([{ ...fault, ...part }, ...trial.faults.slice(1)]);
  const isEarth = fault.kind === '1ph' || fault.kind === '2phE';
  const devices = devicesOf(alternating(network));
  const breakers = [...new Set(devices.flatMap(({ opens }) => opens))].flatMap((id) => {
    const element = network.elements.get(id);
    return element?.kind === 'switch' && element.type !== 'fuse' ? [{ value: id as string, label: element.name }] : [];
  });
  const channels = [
    ...ofKind(network, 'linePackage').filter(({ scheme }) => scheme !== 'stepped' && scheme !== 'differential'),
    ...ofKind(network, 'relay').filter(({ functions }) =>
      functions.some((fn) => fn.enabled && 'partners' in fn && fn.partners.length > 0),
    ),
  ].map(({ id, name }) => ({ value: id as string, label: name }));
  const fails = (field: 'stuck' | 'dead' | 'silent', title: string, data: { value: string; label: string }[]) => (
    <MultiSelect
      size="xs"
      w={150}
      searchable
      clearable
      hidePickedOptions
      aria-label={title}
      placeholder={trial[field].length > 0 ? undefined : title}
      data={data}
      value={[...trial[field]]}
      onChange={(ids) => changeTrial({ [field]: ids as ElementId[] })}
    />
  );
  const ohm = (field: 'phaseOhm' | 'earthOhm', title: string) => (
    <NumberInput
      size="xs"
      w={92}
      aria-label={title}
      title={title}
      prefix={field === 'earthOhm' ? 'RE ' : 'R '}
      suffix=" Ω"
      min={0}
      max={1000}
      value={fault[field]}
      onChange={(value) => putFirst({ [field]: Number(value) || 0 })}
    />
  );
  return (
    <div className={bench.head}>
      {fault.fraction !== null && (
        <NumberInput
          size="xs"
          w={84}
          aria-label="Place along the line, in percent"
          suffix=" %"
          min={1}
          max={99}
          value={Number((100 * fault.fraction).toPrecision(4))}
          onChange={(value) => {
            const percent = Number(value);
            if (percent > 0 && percent < 100) putFirst({ fraction: percent / 100 });
          }}
        />
      )}
      <Select
        size="xs"
        w={150}
        aria-label="Kind of fault"
        allowDeselect={false}
        value={fault.type === 'open' ? 'open' : fault.kind}
        data={[
          ...faultKinds.map((value) => ({ value: value as string, label: shortKindTitles[value] })),
          { value: 'open', label: 'conductor broken' },
        ]}
        onChange={(value) =>
          putFirst(
            value === 'open'
              ? { type: 'open', terminal: fault.terminal ?? 0, fraction: null }
              : { type: 'shunt', kind: value as TrialFault['kind'] },
          )
        }
      />
      {(fault.type === 'open' || fault.kind !== '3ph') && (
        <Select
          size="xs"
          w={74}
          aria-label={phaseTitle(fault)}
          title={phaseTitle(fault)}
          allowDeselect={false}
          value={String(fault.odd)}
          data={phaseNames.map((label, k) => ({ value: String(k), label }))}
          onChange={(value) => putFirst({ odd: Number(value) })}
        />
      )}
      {fault.type === 'shunt' && ohm('phaseOhm', 'Resistance of each phase')}
      {fault.type === 'shunt' && isEarth && ohm('earthOhm', 'Resistance to earth')}
      <Select
        size="xs"
        w={140}
        aria-label="Condition"
        allowDeselect={false}
        value={trial.condition}
        data={conditionsOf(network).map(({ id, name }) => ({ value: id as string, label: name }))}
        onChange={(value) => changeTrial({ condition: value as ElementId })}
      />
      {fails('stuck', 'Breakers that fail', breakers)}
      {fails(
        'dead',
        'Devices that fail',
        devices.map(({ id, name }) => ({ value: id as string, label: name })),
      )}
      {channels.length > 0 && fails('silent', 'Channels that fail', channels)}
      <Select
        size="xs"
        w={150}
        aria-label="Motors"
        allowDeselect={false}
        value={String(trial.motorsFeedS ?? 'on')}
        data={[
          { value: 'on', label: 'motors feed it on' },
          { value: '0.1', label: 'motors feed it for 0.1 s' },
          { value: '0', label: 'motors feed nothing' },
        ]}
        onChange={(value) => changeTrial({ motorsFeedS: value === 'on' ? null : Number(value) })}
      />
      <Select
        size="xs"
        w={150}
        aria-label="Whether the fault stays"
        allowDeselect={false}
        value={String(trial.goneAfterDeadS ?? 'stays')}
        data={[
          { value: 'stays', label: 'the fault stays' },
          { value: '0.3', label: 'gone after 0.3 s without current' },
        ]}
        onChange={(value) => changeTrial({ goneAfterDeadS: value === 'stays' ? null : Number(value) })}
      />
      <Becomes trial={trial} />
    </div>
  );
}

/** What the fault becomes after a while. */
function Becomes({ trial }: { trial: Trial }) {
  const [later, ...after] = trial.then;
  const [fault, ...others] = trial.faults;
  const put = (atS: number, becomes: string) => {
    const faults = becomes === 'gone' ? [] : [{ ...fault, kind: becomes as TrialFault['kind'] }, ...others];
    changeTrial({ then: becomes === 'none' ? after : [{ atS, faults }, ...after] });
  };
  const becomes = later ? (later.faults.at(0)?.kind ?? 'gone') : 'none';
  return (
    <>
      <Select
        size="xs"
        w={150}
        aria-label="Becomes"
        allowDeselect={false}
        value={becomes}
        data={[
          { value: 'none', label: 'does not change' },
          ...faultKinds.map((value) => ({ value: value as string, label: `becomes ${shortKindTitles[value]}` })),
          { value: 'gone', label: 'goes out' },
        ]}
        onChange={(value) => put(later?.atS ?? 0.1, value ?? 'none')}
      />
      {later && (
        <NumberInput
          size="xs"
          w={92}
          aria-label="After, in seconds"
          prefix="after "
          suffix=" s"
          min={0.001}
          max={60}
          step={0.05}
          value={later.atS}
          onChange={(value) => {
            if (Number(value) > 0) put(Number(value), becomes);
          }}
        />
      )}
    </>
  );
}
