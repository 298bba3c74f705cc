'use client';

import type { KeyboardEvent, PointerEvent } from 'react';
import { formatNumber } from '@mesura/core/fields/quantity';
import type { DistanceFunction, DistanceZone } from '@mesura/core/protection/distance/schema';
import { snap } from '@mesura/core/protection/settings/range';
import type { Change } from '../../desk/useStoreFunction';
import type { Axis, Paper } from '../../plots/scene';

type Part = 'reach' | 'resistance';

interface Props {
  fn: DistanceFunction;
  /** Secondary ohms of a primary one. */
  secondary: number;
  isEarth: boolean;
  x: Axis;
  y: Axis;
  paper: Paper;
  device: string;
  /** A ring is being moved. */
  isHeld: boolean;
  onMove: (change: Change<DistanceFunction>) => void;
  onStore: (change: Change<DistanceFunction>, what: string) => void;
  onCancel: () => void;
}

const fieldOf = (part: Part, isEarth: boolean) =>
  part === 'reach'
    ? isEarth
      ? ('reachEarthOhm' as const)
      : ('reachOhm' as const)
    : isEarth
      ? ('resistanceEarthOhm' as const)
      : ('resistanceOhm' as const);

/** What a zone is held by in the plane: the tip of its reach on the angle of the line, its resistance on the axis; on the steps of the relay. */
export function PlaneHandles({
  fn,
  secondary,
  isEarth,
  x,
  y,
  paper,
  device,
  isHeld,
  onMove,
  onStore,
  onCancel,
}: Props) {
  const angle = (fn.lineAngleDeg * Math.PI) / 180;
  const set =
    ({ name }: DistanceZone, part: Part, secondaryOhm: (now: number) => number): Change<DistanceFunction> =>
    (now) => {
      const field = fieldOf(part, isEarth);
      const { ohm } = now.ranges;
      return {
        ...now,
        zones: now.zones.map((each) =>
          each.name === name ? { ...each, [field]: snap(ohm, Math.max(secondaryOhm(each[field]), ohm.min)) } : each,
        ),
      };
    };
  const parts: readonly Part[] = fn.characteristic === 'quadrilateral' ? ['reach', 'resistance'] : ['reach'];
  return (
    <>
      {fn.zones
        .filter(({ enabled }) => enabled)
        .flatMap((zone) =>
          parts.map((part) => {
            const ohm = zone[fieldOf(part, isEarth)] / secondary;
            const way = zone.looks === 'reverse' ? -1 : 1;
            const at =
              part === 'reach'
                ? { x: way * ohm * Math.cos(angle), y: way * ohm * Math.sin(angle) }
                : { x: way * ohm, y: 0 };
            const name = zone.name === 'overreach' ? 'overreaching zone' : `zone ${zone.name}`;
            const title = `${part === 'reach' ? 'Reach' : 'Resistance'} of ${name}, ${device}`;
            const dragged = (event: PointerEvent<SVGCircleElement>): Change<DistanceFunction> => {
              const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
              const scale = paper.width / box.width;
              const [re, im] = [
                x.valueAt((event.clientX - box.left) * scale),
                y.valueAt((event.clientY - box.top) * scale),
              ];
              const along = part === 'reach' ? re * Math.cos(angle) + im * Math.sin(angle) : re;
              return set(zone, part, () => way * along * secondary);
            };
            const keyed = (event: KeyboardEvent) => {
              const many = event.shiftKey ? 10 : 1;
              const steps: Record<string, number> = {
                ArrowUp: many,
                ArrowRight: many,
                ArrowDown: -many,
                ArrowLeft: -many,
              };
              if (!(event.key in steps)) return;
              event.preventDefault();
              const by = steps[event.key] * fn.ranges.ohm.step;
              onStore(
                set(zone, part, (now) => now + by),
                title,
              );
            };
            return (
              <circle
                key={`${zone.name} ${part}`}
                cx={x.at(at.x)}
                cy={y.at(at.y)}
                r={5.5}
                fill="var(--m-panel)"
                stroke="var(--m-accent)"
                strokeWidth={1.5}
                style={{ cursor: 'grab', touchAction: 'none' }}
                tabIndex={0}
                role="button"
                aria-label={`${title}, ${formatNumber(ohm, 4)} Ω`}
                onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
                onPointerMove={(event) => {
                  if (event.currentTarget.hasPointerCapture(event.pointerId)) onMove(dragged(event));
                }}
                onPointerUp={(event) => {
                  if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
                  event.currentTarget.releasePointerCapture(event.pointerId);
                  // A mere click moves nothing.
                  if (isHeld) onStore(dragged(event), title);
                }}
                onPointerCancel={onCancel}
                onKeyDown={keyed}
              >
                <title>{`${title}, ${formatNumber(ohm, 4)} Ω primary. Drag, or arrow keys.`}</title>
              </circle>
            );
          }),
        )}
    </>
  );
}
