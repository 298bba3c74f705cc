import type { Drawn } from '@mesura/core/drawing/shape/shapes';
import { partsOf, type Standard } from './symbolParts';

/** A symbol as SVG in one colour, for buttons and lists. */
export function ElementSymbol({ element, standard }: { element: Drawn; standard: Standard }) {
  return (
    <g fill="none" stroke="currentColor" strokeLinecap="round" strokeLinejoin="round">
      {partsOf(element, standard).map((part, k) =>
        part.text ? (
          <text
            key={k}
            x={part.text.x}
            y={part.text.y}
            fontSize={part.text.size}
            fontWeight={600}
            textAnchor="middle"
            fill="currentColor"
            stroke="none"
          >
            {part.text.value}
          </text>
        ) : (
          <path
            key={k}
            d={part.d}
            strokeWidth={part.width * 0.75}
            vectorEffect="non-scaling-stroke"
            strokeDasharray={part.dash}
            fill={part.fill === 'stroke' ? 'currentColor' : 'none'}
          />
        ),
      )}
    </g>
  );
}
