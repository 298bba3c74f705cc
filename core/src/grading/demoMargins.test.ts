/** A first project's margins and sensitivities as they were before devices became families (core/reference/demo-margins.json): whatever is rebuilt, they
 * stay. */
import { describe, expect, it } from 'vitest';
import before from '../../reference/demo-margins.json' with { type: 'json' };
import { sensitivities } from '../checks/settings/sensitivity';
import type { Measured } from '../model/chart';
import { ofKind } from '../model/network';
import { deviceOf } from '../protection/device';
import { Studies } from '../studies/studies';
import { networkOfFile } from '../test/demo';
import { pairMargin, pairStates } from './margin';

// Format version 1, as released: it is read for ever, and gives what it gave.
const network = networkOfFile('core/reference/projects/version-1.json');
const studies = new Studies(network);
const { conditions } = studies;
/** To twelve digits: sums in another order differ in the sixteenth. */
const digits = (value: number | null) => (value === null ? null : Number(value.toPrecision(12)));

describe('a project of format version 1, before and after', () => {
  it('margins', () => {
    const now = ofKind(network, 'gradingChart').flatMap((chart) =>
      chart.pairs.map((pair) => {
        const [below, above] = [pair.downstream, pair.upstream].map((id) => deviceOf(network, id)!);
        const { verdict, decisive, upstreamFirstBelowA } = pairMargin(
          network,
          pairStates(studies, below, above, chart.mode as Measured, conditions),
          pair,
          chart.mode as Measured,
        );
        return {
          chart: chart.id,
          downstream: pair.downstream,
          upstream: pair.upstream,
          verdict,
          marginS: digits(decisive?.marginS ?? null),
          downstreamA: digits(decisive?.downstreamA ?? null),
          upstreamA: digits(decisive?.upstreamA ?? null),
          by: decisive && [decisive.downstreamBy, decisive.upstreamBy],
          kind: decisive?.kind ?? null,
          faultCase: decisive && (decisive.condition === 'maximum' ? 'max' : 'min'),
          upstreamFirstBelowA: digits(upstreamFirstBelowA),
        };
      }),
    );
    expect(now).toEqual(
      before.margins.map((each) => ({
        ...each,
        marginS: digits(each.marginS),
        downstreamA: digits(each.downstreamA),
        upstreamA: digits(each.upstreamA),
        upstreamFirstBelowA: digits(each.upstreamFirstBelowA),
      })),
    );
  });
  it.each(before.relays)('sensitivities of $relay', (then) => {
    const now = sensitivities(studies, deviceOf(network, then.relay as never)!, conditions);
    expect(
      now.map(({ measured, figure, factor, pickupA }) => [measured, figure.place, digits(factor), digits(pickupA)]),
    ).toEqual(
      then.sensitivities.map(({ measured, place, factor, pickupA }) => [
        measured,
        place,
        digits(factor),
        digits(pickupA),
      ]),
    );
  });
});
