import type { DrawnSymbol } from '../../core/topology';

/**
 * Symbols after IEC 60617, drawn along the vertical, centred on the origin; the wire behind is
 * covered by the symbol's own ground. A switch is drawn as the make contact of 07-02-01 in an outline.
 */
export function Symbol({ kind, selected }: { kind: DrawnSymbol['symbol']; selected: boolean }) {
  const line = { stroke: selected ? 'var(--spruce)' : 'var(--ink)', strokeWidth: 2, fill: 'none', strokeLinecap: 'round' as const };
  const ground = selected ? 'var(--spruce-wash)' : 'var(--card)';
  switch (kind) {
    case 'source':
      return (
        <g {...line}>
          <rect x={-14} y={-7} width={28} height={14} fill={ground} stroke="none" />
          <path d="M-14 -5H14" />
          <path d="M-7 5H7" strokeWidth={4} strokeLinecap="butt" />
        </g>
      );
    case 'capacitor':
      return (
        <g {...line}>
          <rect x={-13} y={-5} width={26} height={10} fill={ground} stroke="none" />
          <path d="M-13 -5H13M-13 5H13" strokeWidth={2.6} />
        </g>
      );
    case 'inductor':
      return (
        <g {...line}>
          <rect x={-8} y={-32} width={16} height={64} fill={ground} stroke={selected ? 'var(--spruce)' : 'none'} strokeWidth={1} rx={4} />
          <path d="M0 -32A8 8 0 0 1 0 -16A8 8 0 0 1 0 0A8 8 0 0 1 0 16A8 8 0 0 1 0 32" />
        </g>
      );
    case 'transformer':
      return (
        <g {...line}>
          <rect x={-30} y={-32} width={60} height={64} fill={ground} stroke={selected ? 'var(--spruce)' : 'none'} strokeWidth={1} rx={4} />
          {[-1, 1].map((side) => (
            <path key={side} d="M20 -32A8 8 0 0 0 20 -16A8 8 0 0 0 20 0A8 8 0 0 0 20 16A8 8 0 0 0 20 32" transform={`scale(${side} 1)`} />
          ))}
          <path d="M-3 -30V30M3 -30V30" strokeWidth={1.4} />
        </g>
      );
    case 'switch':
      return (
        <g {...line}>
          <rect x={-16} y={-18} width={32} height={36} rx={6} fill={ground} />
          <path d="M0 -18V-9M0 18V9M0 9L-9 -9" />
        </g>
      );
    case 'diode':
      return (
        <g {...line}>
          <rect x={-11} y={-9} width={22} height={18} fill={ground} stroke="none" />
          <path d="M0 14V-14M-10 8L10 8L0 -8Z" fill={ground} strokeLinejoin="round" />
          <path d="M-10 -8H10" strokeWidth={2.4} />
        </g>
      );
    case 'mains':
      return (
        <g {...line}>
          <circle r={14} fill={ground} />
          <path d="M-8 0C-5 -8 -2 -8 0 0S5 8 8 0" />
        </g>
      );
    case 'rectifier':
      return (
        <g {...line}>
          <rect x={-22} y={-64} width={44} height={128} fill={ground} />
          <path d="M-22 64L22 -64" strokeWidth={1.4} />
          <path d="M-16 -42C-13 -48 -11 -48 -9 -42S-5 -36 -2 -42M4 40H16M4 46H16" strokeWidth={1.8} />
        </g>
      );
    case 'load':
      return (
        <g {...line}>
          <rect x={-9} y={-26} width={18} height={52} fill={ground} />
        </g>
      );
  }
}
