'use client';

import { Button } from '@mantine/core';
import type { CircuitProposal, ProposedOption } from '@mesura/core/lowVoltage/propose';
import { criterionTexts } from '@mesura/core/lowVoltage/texts';
import type { Criterion } from '@mesura/core/lowVoltage/judge';
import { formatNumber, withUnit } from '@mesura/core/fields/quantity';
import { nameIn } from '@mesura/core/model/network';
import { Chip } from '../../desk/Chip';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import bench from '../../card/bench.module.css';

export const listed = (criteria: readonly Criterion[]): string =>
  criteria.map((each) => criterionTexts[each].missed).join(', ');

/** Criteria by their names. */
export const named = (criteria: readonly Criterion[]): string =>
  criteria.map((each) => criterionTexts[each].title.toLowerCase()).join(', ');

/** "4 mm², gG 25 A, with 30 mA" */
export const optionText = ({ sectionMm2, device, residualA }: ProposedOption): string =>
  [
    sectionMm2 === null ? null : `${sectionMm2} mm²`,
    device,
    residualA === null ? null : `residual-current device ${formatNumber(1000 * residualA)} mA`,
  ]
    .filter(Boolean)
    .join(', ') || 'as it is';

/** Why this section and this device. */
export function reasonsOf({ smallerMisses, deviceMisses }: ProposedOption): string[] {
  return [
    ...(smallerMisses ? [`${smallerMisses.sectionMm2} mm² would not do: ${listed(smallerMisses.criteria)}.`] : []),
    ...(deviceMisses && deviceMisses.criteria.length > 0
      ? [`${deviceMisses.device} would not do: ${listed(deviceMisses.criteria)}.`]
      : []),
  ];
}

/** What is proposed for one circuit; nothing is stored before it is taken. */
export function OptionCards({ proposal }: { proposal: CircuitProposal }) {
  const network = useProject((state) => state.network);
  const store = useProjectStore();
  const take = (option: ProposedOption) =>
    report(
      store.getState().commit(
        option.elements.map((element) => ({ op: 'update' as const, element })),
        `${nameIn(network, proposal.key)}: ${optionText(option)} as proposed`,
      ),
    );
  const { longestM } = proposal;
  return (
    <div aria-label="Proposals" role="group">
      {proposal.options.length === 0 && (
        <p className={bench.problem}>
          No section and device of this kind meet everything: try another kind of device, a shorter cable or another way
          of laying it.
        </p>
      )}
      {proposal.options.map((option, k) => (
        <div key={optionText(option)} className={bench.card} style={{ marginTop: 6 }}>
          <div className={bench.cardBody} style={{ padding: '7px 12px' }}>
            <div className={bench.head} style={{ marginBottom: 2 }}>
              <strong>{optionText(option)}</strong>
              {option.left.length > 0 && <Chip state="warn">{`left: ${named(option.left)}`}</Chip>}
              <span className={bench.spacer} />
              {option.elements.length === 0 ? (
                <span className={bench.muted}>as it is now</span>
              ) : (
                <Button size="compact-xs" variant={k === 0 ? 'filled' : 'light'} onClick={() => take(option)}>
                  Take
                </Button>
              )}
            </div>
            <div className={bench.muted}>
              {option.judgement.ampacityA !== null && <>Iz {withUnit(option.judgement.ampacityA, 'A', 3)}, </>}
              drop {formatNumber(option.judgement.upstreamPercent + option.judgement.ownPercent, 3)} %
              {option.judgement.timeS !== null && (
                <>
                  , cut off in {withUnit(option.judgement.timeS, 's', 2)} of{' '}
                  {withUnit(option.judgement.requiredS, 's', 2)}
                </>
              )}
              {reasonsOf(option).map((reason) => (
                <div key={reason}>{reason}</div>
              ))}
            </div>
          </div>
        </div>
      ))}
      {longestM !== undefined && (
        <p className={bench.muted} style={{ margin: '6px 0' }}>
          {longestM === null
            ? 'With the cable and the device as they are, no length is short enough.'
            : `With the cable and the device as they are, it may be ${formatNumber(longestM, 4)} m long.`}
        </p>
      )}
    </div>
  );
}
