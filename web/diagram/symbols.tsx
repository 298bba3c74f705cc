/** Symbols of the one-line diagram after IEC 60617, each around its own centre, upright. `hv`/`lv` are the colours of its two sides. */
import type { Drawn } from './geometry';

interface SymbolProps {
  element: Drawn;
  hv: string;
  lv: string;
  /** Colour of the third side. */
  third?: string;
}

const stroke = { fill: 'none', strokeWidth: 1.6, strokeLinecap: 'round', strokeLinejoin: 'round' } as const;

export function ElementSymbol({ element, hv, lv, third = lv }: SymbolProps) {
  switch (element.kind) {
    case 'bus':
      return null;
    case 'switch':
      return <SwitchSymbol type={element.type} closed={element.closed} color={hv} />;
    case 'currentTransformer':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -10V10" />
          <circle r={5.5} fill="var(--m-paper)" fillOpacity={0} />
        </g>
      );
    case 'transformer':
      return (
        <g {...stroke}>
          <path d="M0 -30V-22M0 22V30" stroke={hv} />
          <path d="M0 22V30" stroke={lv} />
          <circle cy={-9} r={13} stroke={hv} />
          <circle cy={9} r={13} stroke={lv} />
        </g>
      );
    case 'threeWindingTransformer':
      return (
        <g {...stroke}>
          <path d="M0 -30V-22" stroke={hv} />
          <path d="M-20 30V20L-17 17" stroke={lv} />
          <path d="M20 30V20L17 17" stroke={third} />
          <circle cy={-10} r={12} stroke={hv} />
          <circle cx={-8.5} cy={7} r={12} stroke={lv} />
          <circle cx={8.5} cy={7} r={12} stroke={third} />
        </g>
      );
    case 'seriesReactor':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -30V-18a4.5 4.5 0 0 1 0 9a4.5 4.5 0 0 1 0 9a4.5 4.5 0 0 1 0 9a4.5 4.5 0 0 1 0 9V30" />
        </g>
      );
    case 'powerStationUnit':
      return (
        <g {...stroke}>
          <path d="M0 -40V-34" stroke={hv} />
          <circle cy={-24} r={10} stroke={hv} />
          <circle cy={-11} r={10} stroke={lv} />
          <path d="M0 -1V6M0 30V40" stroke={lv} />
          <circle cy={18} r={12} fill="var(--m-panel)" stroke={lv} />
          <text textAnchor="middle" y={22.5} fontSize={12} fontWeight={600} fill={lv} stroke="none">
            G
          </text>
        </g>
      );
    case 'converterSource':
    case 'staticDrive':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -20V-13" />
          <rect x={-13} y={-13} width={26} height={26} fill="var(--m-panel)" />
          <path d="M-13 13L13 -13" strokeWidth={1.2} />
          <path d="M-10 -7c1.5 -2.5 2.5 -2.5 4 0s2.5 2.5 4 0" strokeWidth={1.2} />
          {element.kind === 'converterSource' ? (
            <path d="M3 6h7M3 9h7" strokeWidth={1.2} />
          ) : (
            <text textAnchor="middle" x={6.5} y={10.5} fontSize={9.5} fontWeight={600} fill={hv} stroke="none">
              M
            </text>
          )}
        </g>
      );
    case 'doublyFedMachine':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -20V-16" />
          <circle r={16} fill="var(--m-panel)" />
          <circle r={11} />
          <text textAnchor="middle" y={4} fontSize={11} fontWeight={600} fill={hv} stroke="none">
            G
          </text>
        </g>
      );
    case 'earthingSwitch':
      return (
        <g {...stroke} stroke={hv}>
          <path d={element.closed ? 'M0 -20V8M-5 -9H5' : 'M0 -20V-9M0 8V4L-8 -8'} />
          <path d="M-8 8H8M-5 11.5H5M-2 15H2" strokeWidth={1.3} />
        </g>
      );
    case 'line':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -30V30" />
          {element.type === 'cable' ? (
            <path d="M-4 -22H4L0 -15ZM-4 22H4L0 15Z" fill={hv} />
          ) : (
            <path d="M-5 3L5 -3M-5 8L5 2" strokeWidth={1.2} />
          )}
        </g>
      );
    case 'networkFeeder':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 12V20" />
          <rect x={-14} y={-14} width={28} height={26} fill="var(--m-panel)" />
          <path d="M-14 -5L-5 -14M-14 4L4 -14M-14 12L12 -14M-5 12L14 -7M4 12L14 2" strokeWidth={0.9} />
        </g>
      );
    case 'synchronousMachine':
      return <Machine letter="G" color={hv} wave />;
    case 'asynchronousMotor':
      return <Machine letter="M" color={hv} />;
    case 'load':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -20V8" />
          <path d="M-6 6H6L0 17Z" fill={hv} />
        </g>
      );
    case 'shunt':
      return (
        <g {...stroke} stroke={hv}>
          {element.type === 'capacitor' ? (
            <path d="M0 -20V-4M-9 -4H9M-9 2H9M0 2V12" />
          ) : (
            <path d="M0 -20V-12M0 -12a8 8 0 1 1 -8 8H0V12" />
          )}
          <path d="M-8 12H8M-5 15.5H5M-2 19H2" strokeWidth={1.3} />
        </g>
      );
    case 'earthingTransformer':
      return (
        <g {...stroke} stroke={hv}>
          <path d="M0 -20V-15M0 5V12" />
          <circle cy={-5} r={10} />
          <path d="M-4 -9H4L-4 -1H4" strokeWidth={1.2} />
          <path d="M-8 12H8M-5 15.5H5M-2 19H2" strokeWidth={1.3} />
        </g>
      );
    case 'relay': {
      const codes = [...new Set(element.functions.filter((fn) => fn.enabled).map((fn) => fn.code))];
      const text = codes.length === 0 ? '–' : codes.length > 2 ? `${codes.slice(0, 2).join('/')}…` : codes.join('/');
      return (
        <g>
          <rect
            x={-26}
            y={-10}
            width={52}
            height={20}
            rx={10}
            fill="var(--m-panel)"
            stroke="var(--m-ink)"
            strokeWidth={1.2}
          />
          <text textAnchor="middle" y={3.8} fontSize={10.5} fill="var(--m-ink)">
            {text}
          </text>
        </g>
      );
    }
  }
}

function SwitchSymbol({
  type,
  closed,
  color,
}: {
  type: 'breaker' | 'disconnector' | 'fuse' | 'link';
  closed: boolean;
  color: string;
}) {
  if (type === 'fuse')
    return (
      <g {...stroke} stroke={color}>
        <path d={closed ? 'M0 -10V10' : 'M0 -10V-8M0 8V10'} />
        <rect
          x={-4}
          y={-8}
          width={8}
          height={16}
          fill={closed ? 'none' : 'var(--m-paper)'}
          strokeDasharray={closed ? undefined : '2 2'}
        />
      </g>
    );
  if (type === 'link')
    return (
      <g {...stroke} stroke={color}>
        <path d={closed ? 'M0 -10V10' : 'M0 -10V-6M0 10V6'} />
        <circle cy={-6} r={2.2} fill={color} />
        <circle cy={6} r={2.2} fill={closed ? color : 'var(--m-paper)'} />
      </g>
    );
  if (type === 'disconnector')
    return (
      <g {...stroke} stroke={color}>
        <path d={closed ? 'M0 -10V10M-5 -7H5' : 'M0 -10V-7M0 10V6L-8 -6M-5 -7H5'} />
      </g>
    );
  return (
    <g {...stroke} stroke={color}>
      <path d="M0 -10V-6.5M0 6.5V10" />
      <rect
        x={-6.5}
        y={-6.5}
        width={13}
        height={13}
        fill={closed ? color : 'var(--m-paper)'}
        fillOpacity={closed ? 0.18 : 1}
      />
      {closed ? <path d="M0 -6.5V6.5" /> : <path d="M-6.5 0H6.5" strokeWidth={1.2} />}
    </g>
  );
}

function Machine({ letter, color, wave = false }: { letter: string; color: string; wave?: boolean }) {
  return (
    <g {...stroke} stroke={color}>
      <path d="M0 -20V-16" />
      <circle r={16} fill="var(--m-panel)" />
      <text textAnchor="middle" y={wave ? 1.5 : 5} fontSize={13} fontWeight={600} fill={color} stroke="none">
        {letter}
      </text>
      {wave && <path d="M-6 8c2.5 -4 4 -4 6 0s3.5 4 6 0" strokeWidth={1.2} />}
    </g>
  );
}
